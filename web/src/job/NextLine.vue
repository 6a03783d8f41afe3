<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import { useDiagnosis } from '../api/judgement'
import type { Stage } from '../api/types'
import { useJob } from './useJob'
import { useLoads } from './useLoads'

// The one action that is next, always in the same place.
const props = defineProps<{ stage: Stage; plain?: boolean }>()
const job = useJob()
const next = computed(() => job.assessment.value?.next)
// A load is named as the list of loads has it, with the pieces of the kit.
const loads = useLoads(() =>
  next.value?.act !== 'read' ? null : next.value.stage === 'as_found' ? 'as_found' : 'prove',
)
const says = computed(() =>
  loads.planning.value ? say('next-line-working-out-which-weights-make') : (loads.says.value ?? next.value?.says),
)
// Whoever goes to set it up has chosen to adjust it.
const chosen = computed(
  () => next.value?.act === 'choose' && (props.stage === 'set_up' || props.stage === 'zero_and_span'),
)
// What is to be read before that choice: the headline says no less than the diagnosis beside it.
const choosing = computed(() => next.value?.act === 'choose' && next.value.stage === 'as_found')
const { data: judged } = useDiagnosis(job.id, 'as_found', () => job.assessment.value?.entries.length ?? 0, choosing)
const before = computed(() => {
  const told = choosing.value && judged.value?.choices?.advice === 'read_again' ? judged.value.diagnosis : null
  return told ? (told.next?.says ?? told.says) : null
})
const stageWord = computed(() => job.assessment.value?.stages.find((s) => s.stage === next.value?.stage)?.label ?? '')
const cautions = computed(() => job.assessment.value?.cautions.filter((c) => c.stage === props.stage) ?? [])
</script>

<template>
  <div v-if="next" class="next">
    <p v-if="next.stage === stage && !plain" class="says" role="status">
      {{ says }}<template v-if="before">{{ ' ' }}{{ $t('next-line-before-that', { says: String(before) }) }}</template>
    </p>
    <p v-else-if="next.stage !== stage && !chosen" class="says elsewhere">
      <span class="grow">{{ $t('next-line-next-says', { says }) }}</span>
      <RouterLink class="btn btn-next" :to="{ name: 'job', params: { job: job.id, stage: next.stage } }" replace>{{
        $t('next-line-go-to-stage-word', { stage_word: stageWord })
      }}</RouterLink>
    </p>
    <ul v-if="!job.frozen.value" class="cautions small">
      <li v-for="c in cautions" :key="String(c.says)">
        <span aria-hidden="true" class="bar"></span
        ><span
          ><span class="sr-only">{{ $t('next-line-caution') }} </span>{{ c.says }}</span
        >
      </li>
    </ul>
  </div>
</template>

<style scoped>
.says {
  font-size: 1.45rem;
  font-weight: 650;
  line-height: 1.2;
  text-wrap: balance;
}
.elsewhere {
  font-size: 1.1rem;
  font-weight: 500;
  color: var(--ink-2);
  display: flex;
  gap: 1rem;
  align-items: center;
}
.grow {
  flex: 1;
}
.cautions {
  margin-top: 0.5rem;
  color: var(--ink);
}
.cautions li {
  display: flex;
  gap: 0.6rem;
  padding: 0.1rem 0;
}
.bar {
  flex: none;
  width: 6px;
  border-left: 2px solid var(--caution);
  border-right: 2px solid var(--caution);
}
</style>
