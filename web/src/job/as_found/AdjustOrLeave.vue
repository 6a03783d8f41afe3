<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import { useDiagnosis } from '../../api/judgement'
import RefusalNote from '../../ui/RefusalNote.vue'
import { useTyped } from '../../state/typed'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// The choice after the readings as found.
const job = useJob()
const entry = useEntry()
const chooses = computed(() => job.assessment.value?.next.act === 'choose')
// What the readings speak for is filled: an adjustment, or leaving it; neither while they ask for something else.
const { data } = useDiagnosis(job.id, 'as_found', () => job.assessment.value?.entries.length ?? 0)
const choices = computed(() => data.value?.choices)
const adjusts = computed(() => chooses.value && (choices.value?.adjusts ?? true))
const leaves = computed(() => chooses.value && choices.value?.advice === 'leave')
const reason = useTyped(() => `${job.id}.left-alone`)
async function leave(): Promise<void> {
  if (await entry.enter({ kind: 'left_alone', reason: reason.value })) reason.value = ''
}
</script>

<template>
  <form class="choice" @submit.prevent="leave">
    <RefusalNote :failure="entry.general(['reason'])" />
    <div class="row">
      <RouterLink
        class="btn"
        :class="{ 'btn-next': adjusts }"
        :to="{ name: 'job', params: { job: job.id, stage: 'set_up' } }"
        >{{ $t('adjust-or-leave-adjust-it') }}</RouterLink
      >
      <span class="quiet">{{ $t('adjust-or-leave-or-leave-it-alone-because') }}</span>
      <div class="field grow">
        <InputText
          v-model="reason"
          :aria-label="$t('adjust-or-leave-why-it-is-left-alone')"
          :aria-invalid="Boolean(entry.wrong('reason'))"
        />
      </div>
      <Button type="submit" :class="{ 'btn-next': leaves }" :disabled="entry.blocked.value">{{
        $t('adjust-or-leave-leave-it-alone')
      }}</Button>
    </div>
    <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
  </form>
</template>

<style scoped>
.grow {
  flex: 1;
  min-width: 12rem;
}
</style>
