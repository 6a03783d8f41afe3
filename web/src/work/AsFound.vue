<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import type { LiveView } from '../api/types'
import RefusalNote from '../parts/RefusalNote.vue'
import { useTyped } from '../state/typed'
import PracticePanel from './PracticePanel.vue'
import CheckTabs from './CheckTabs.vue'
import DiagnosisPanel from './DiagnosisPanel.vue'
import LivePanel from './LivePanel.vue'
import ReadingForm from './ReadingForm.vue'
import ReadingTable from './ReadingTable.vue'
import ShadeSide from './ShadeSide.vue'
import TestForm from './TestForm.vue'
import WorkFrame from './WorkFrame.vue'
import { useEntry } from './useEntry'
import { useJob } from './useJob'

defineProps<{ live: LiveView | null; practice: boolean }>()
const job = useJob()
const entry = useEntry()
const selected = ref<string | null>(null)
const part = ref('loads')
const test = computed(() => phase.value?.tests.find((t) => t.test === part.value))
const phase = computed(() => job.assessment.value?.as_found)
const open = computed(() => !job.frozen.value && !job.assessment.value?.adjust.saved && !job.assessment.value?.adjust.zero)
const undecided = computed(() => open.value && !job.assessment.value?.adjust.left_alone && (phase.value?.readings.length ?? 0) > 0)
const chooses = computed(() => job.assessment.value?.next.act === 'choose')
const reason = useTyped(() => `${job.id}.left-alone`)

async function leave(): Promise<void> {
  if (await entry.enter({ kind: 'left_alone', reason: reason.value })) reason.value = ''
}
</script>

<template>
  <WorkFrame stage="as_found">
    <template v-if="phase">
      <LivePanel v-if="live && open" :live="live" />
      <CheckTabs v-if="open" v-model="part" :phase="phase" />
      <TestForm v-if="open && test" stage="as_found" :test="test" :phase="phase" :live="live" />
      <ReadingForm v-else-if="open" stage="as_found" :phase="phase" :live="live" />
      <p v-else-if="!phase.readings.length" class="quiet">No reading was taken as found; it has been adjusted since.</p>
      <ReadingTable v-if="phase.readings.length" :readings="phase.readings" :selected="selected" @select="selected = selected === $event ? null : $event" />
      <p v-if="phase.readings.length" class="small">{{ phase.says }}</p>
      <form v-if="undecided" class="choice" @submit.prevent="leave">
        <RefusalNote :failure="entry.general(['reason'])" />
        <div class="row">
          <RouterLink class="btn" :class="{ 'btn-next': chooses }" :to="{ name: 'job', params: { job: job.id, stage: 'set_up' } }">Adjust it</RouterLink>
          <span class="quiet">or leave it alone, because</span>
          <div class="field grow">
            <InputText v-model="reason" aria-label="Why it is left alone" :aria-invalid="Boolean(entry.wrong('reason'))" />
          </div>
          <Button type="submit" :disabled="entry.blocked.value">Leave it alone</Button>
        </div>
        <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
      </form>
    </template>
    <template #side>
      <ShadeSide v-model:selected="selected" />
      <DiagnosisPanel stage="as_found" />
      <PracticePanel v-if="practice && !job.frozen.value" />
    </template>
  </WorkFrame>
</template>

<style scoped>
.choice { border-top: 1px solid var(--rule); padding-top: 0.8rem; }
.grow { flex: 1; min-width: 12rem; }
</style>
