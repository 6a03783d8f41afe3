<script setup lang="ts">
import InputText from 'primevue/inputtext'
import type { LiveView, Source } from '../../api/types'
import { useTyped } from '../../state/typed'
import CaptureForm from './CaptureForm.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// A further point of the curve: its weight, then its counts. It cures a cell that bows.
defineProps<{ unit: string; live: LiveView | null; count: number; most: number }>()
const job = useJob()
const entry = useEntry()
const weight = useTyped(() => `${job.id}.point-weight`)
async function capture(counts: Source): Promise<boolean> {
  const stored = await entry.enter({ kind: 'point_captured', weight: weight.value, counts })
  if (stored) weight.value = ''
  return stored
}
</script>

<template>
  <details class="point" :open="count > 0">
    <summary>
      {{
        $t('point-form-another-pointbow', {
          bow: count
            ? ' ' + $t('point-form-count-of-most-span-points', { count: count + 1, most })
            : $t('point-form-where-one-span-leaves-a'),
        })
      }}
    </summary>
    <div class="field weight">
      <label for="point-weight">{{ $t('point-form-weight-of-the-point-unit', { unit }) }}</label><InputText
        id="point-weight"
        v-model="weight"
        class="input input-figure"
        inputmode="decimal"
        autocomplete="off"
        :aria-invalid="Boolean(entry.wrong('weight'))"
      />
      <p :class="entry.wrong('weight') ? 'wrong' : 'hint'">
        {{ entry.wrong('weight') || $t('point-form-key-it-in-put-it') }}
      </p>
    </div>
    <CaptureForm
      :action="$t('point-form-capture-this-point')"
      quiet
      :live="live"
      :wrong="entry.wrong"
      :blocked="entry.blocked.value"
      :store="`${job.id}.point`"
      :capture="capture"
    />
  </details>
</template>

<style scoped>
.point {
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
summary {
  cursor: pointer;
  min-height: var(--target);
  font-weight: 600;
}
.weight {
  max-width: 22rem;
}
</style>
