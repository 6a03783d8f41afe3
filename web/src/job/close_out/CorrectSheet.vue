<script setup lang="ts">
import { say } from '../../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, reactive, watch } from 'vue'
import { useTyped } from '../../state/typed'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// A slip in what identifies the scale; the readings stay as they are.
const job = useJob()
const entry = useEntry()
const a = computed(() => job.assessment.value)
const to = reactive({ name: '', owner: '', place: '', serial: '' })
const reason = useTyped(() => `${job.id}.slip`)
const fields = [
  ['name', say('common-scale')],
  ['serial', say('common-serial')],
  ['owner', say('correct-sheet-owner')],
  ['place', say('common-place')],
] as const
watch(
  () => a.value?.sheet,
  (sheet) => {
    if (sheet) Object.assign(to, { name: sheet.name, owner: sheet.owner, place: sheet.place, serial: sheet.serial })
  },
  { immediate: true },
)

async function submit(): Promise<void> {
  if (await entry.enter({ kind: 'sheet_corrected', to: { ...to }, reason: reason.value })) reason.value = ''
}
</script>

<template>
  <details>
    <summary>{{ $t('correct-sheet-name-serial-owner-or-place') }}</summary>
    <form class="slip" @submit.prevent="submit">
      <div v-for="[key, label] in fields" :key="key" class="field">
        <label :for="`slip-${key}`">{{ label }}</label><InputText
          :id="`slip-${key}`"
          v-model="to[key]"
          :aria-invalid="Boolean(entry.wrong(key))"
        />
        <p v-if="entry.wrong(key)" class="wrong" role="alert">{{ entry.wrong(key) }}</p>
      </div>
      <div class="field wide">
        <label for="slip-reason">{{ $t('journal-foot-why') }}</label><InputText id="slip-reason" v-model="reason" />
        <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
      </div>
      <div class="row wide">
        <Button type="submit" :disabled="entry.blocked.value">{{ $t('correct-sheet-put-it-right') }}</Button><span
          class="small quiet"
          >{{ $t('correct-sheet-on-this-record-the-sheet') }}</span
        >
      </div>
    </form>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: var(--target);
  display: flex;
  align-items: center;
}
.slip {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.7rem 1rem;
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
</style>
