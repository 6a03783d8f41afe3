<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import type { Draft } from '../api/types'
import { useTyped } from '../state/typed'
import { useEntry } from './useEntry'
import { useJob } from './useJob'

// Counters of changes tell whether somebody has been at the set-up since the last record.
const props = defineProps<{ left?: boolean }>()
const job = useJob()
const entry = useEntry()
const setup = useTyped(() => `${job.id}.counter.setup.${props.left}`)
const calibration = useTyped(() => `${job.id}.counter.calibration.${props.left}`)
const wrong = computed(() => entry.wrong('counter_setup') || entry.wrong('counter_calibration'))

async function submit(): Promise<void> {
  const draft: Draft = {
    kind: 'counters_read',
    stage: props.left ? 'prove' : 'as_found',
    setup: setup.value,
    calibration: calibration.value,
  }
  if (await entry.enter(draft)) setup.value = calibration.value = ''
}
</script>

<template>
  <form class="counters" @submit.prevent="submit">
    <h2 class="head">{{ $t('counter-form-counters-of-changes-if-it') }}</h2>
    <div class="row tight">
      <InputText
        v-model="setup"
        class="input figure"
        inputmode="numeric"
        :aria-label="$t('counter-form-set-up-counter')"
        :placeholder="$t('counter-form-set-up')"
        :aria-invalid="Boolean(entry.wrong('counter_setup'))"
      />
      <InputText
        v-model="calibration"
        class="input figure"
        inputmode="numeric"
        :aria-label="$t('counter-form-calibration-counter')"
        :placeholder="$t('counter-form-calibration')"
        :aria-invalid="Boolean(entry.wrong('counter_calibration'))"
      />
      <Button type="submit" :disabled="entry.blocked.value">{{ $t('counter-form-note-them') }}</Button>
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </form>
</template>

<style scoped>
.counters {
  border-top: 1px solid var(--rule);
  padding-top: 0.6rem;
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.counters .input {
  width: 8rem;
}
.head {
  font-size: 1rem;
}
</style>
