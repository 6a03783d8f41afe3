<script setup lang="ts">
import { computed, watch } from 'vue'
import { usePlan } from '../api/kit'
import PieceList from './PieceList.vue'
import { usePlanChoices } from './usePlanChoices'
import type { Planned } from './planned'

// Which pieces go on and off for the next load of the plan; the load goes into the field with a key.
const props = defineProps<{ job: string; entries: number }>()
const { choices } = usePlanChoices(() => props.job)
const { data } = usePlan(
  () => props.job,
  computed(() => ({ choices: choices.value, span: '', entries: props.entries })),
)
const step = computed(() =>
  data.value?.next === null || data.value?.next === undefined ? undefined : data.value.plan.steps[data.value.next],
)
// The load of the plan goes into the reading field, its pieces onto the record.
const emit = defineEmits<{ planned: [step: Planned | null] }>()
const planned = computed<Planned | null>(() =>
  step.value ? { load: step.value.load.value, why: step.value.why, pieces: step.value.on } : null,
)
watch(
  () => JSON.stringify(planned.value),
  () => emit('planned', planned.value),
  { immediate: true },
)
</script>

<template>
  <div v-if="step || data?.plan.lacks.length" class="pieces" data-testid="next-pieces">
    <template v-if="step">
      <p class="row tight">
        <span class="small quiet">by the plan</span
        ><strong class="figure">{{ step.load.value }} {{ step.load.unit }}</strong
        ><RouterLink class="push small" :to="{ name: 'loads', params: { job } }">What to lift</RouterLink>
      </p>
      <PieceList v-if="step.take.length" label="take off" :pieces="step.take" fixed />
      <PieceList v-if="step.put.length" label="put on" :pieces="step.put" fixed />
    </template>
    <p v-else class="row tight">
      <span class="small">{{ data?.plan.lacks.length }} loads cannot be built from the kit.</span
      ><RouterLink class="push small" :to="{ name: 'loads', params: { job } }">What is missing</RouterLink>
    </p>
  </div>
</template>

<style scoped>
.pieces {
  border-left: 4px solid var(--shade);
  padding: 0.1rem 0 0.1rem 0.7rem;
  max-height: 6rem;
  overflow: auto;
}
</style>
