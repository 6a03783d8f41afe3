<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { askKeying } from '../../api/profiles'
import type { KeyPhase } from '../../api/types'
import CannotList from '../../keying/CannotList.vue'
import KeyMoves from '../../keying/KeyMoves.vue'
import { useJob } from '../useJob'

// The keys that belong to the step of zero and span that is next on this indicator.
const props = defineProps<{
  step: 'zero' | 'weight' | 'span' | 'save' | 'done' | 'factor'
  thought?: string
  factor?: string
}>()
const job = useJob()
const adjust = computed(() => job.assessment.value?.adjust)
// The keys of a weight that is being typed follow it; before that a sheet with Max shows the keys of
// zero all the same.
const weights = computed(() =>
  props.step === 'weight' && props.thought?.trim()
    ? [props.thought]
    : adjust.value?.weight
      ? [`${adjust.value.weight.value} ${adjust.value.weight.unit}`]
      : [job.assessment.value?.setup.setup.max].flatMap((m) => (m ? [`${m.value} ${m.unit}`] : [])),
)
const { data } = useQuery({
  queryKey: computed(() => ['keying', job.id, job.assessment.value?.entries.length, weights.value, props.factor]),
  queryFn: () => askKeying(job.id, null, weights.value, { factor: props.factor }),
  retry: false,
  placeholderData: (before) => before,
})
const phases: Record<string, KeyPhase[]> = {
  zero: ['zero'],
  weight: ['span'],
  span: ['span'],
  save: ['save', 'way_out'],
  factor: ['way_in', 'span', 'save', 'way_out'],
}
const steps = computed(() => {
  const pad = adjust.value?.pad ?? 1
  const several = (adjust.value?.pads.length ?? 0) > 0
  const all = (data.value?.sheet?.steps ?? []).filter(
    (s) => phases[props.step]?.includes(s.phase) && (!several || s.pad === null || s.pad === pad),
  )
  if (props.step === 'weight') return props.thought?.trim() ? all.filter((s) => !s.platform) : []
  if (props.step === 'span') return all.filter((s) => s.platform)
  return all
})
</script>

<template>
  <section v-if="data" class="stack tight" :aria-label="$t('key-steps-keys-for-this-step')">
    <div class="row">
      <h2>{{ $t('key-steps-keys-name', { name: data.profile.name }) }}</h2>
    </div>
    <CannotList v-if="data.cannot.length && adjust?.weight" :cannot="data.cannot" />
    <div v-for="s in steps" :key="s.number">
      <p class="small">
        <strong>{{ s.title }}</strong>
      </p>
      <KeyMoves :step="s" />
      <p v-for="c in s.cautions" :key="String(c)" class="note note-caution small">{{ c }}</p>
    </div>
  </section>
</template>
