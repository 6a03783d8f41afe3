<script setup lang="ts">
import { computed } from 'vue'
import { useDiagnosis } from '../api/judgement'
import { useJob } from './useJob'

// As it is left it is out of tolerance: what can be done about it, and what each would do. The one that the
// readings speak for is filled.
defineEmits<{ corners: [] }>()
const job = useJob()
const a = computed(() => job.assessment.value)
const { data } = useDiagnosis(job.id, 'prove', () => a.value?.entries.length ?? 0)
const advice = computed(() => data.value?.choices?.advice)
const would = (act: string) => {
  const way = data.value?.choices?.ways.find((w) => w.act === act)
  if (!way) return ''
  const share = `${Math.round(way.worst_share * 100)} % of the tolerance`
  return way.within ? `would leave ${share} at the most` : `would still leave ${share}`
}
const to = (stage: string) => ({ name: 'job', params: { job: job.id, stage } })
const fills = (...acts: string[]) => ({ 'btn-next': acts.includes(advice.value ?? '') })
const corners = computed(() => a.value?.proof.tests.some((t) => t.test === 'corners'))
</script>

<template>
  <section class="out" aria-label="Out of tolerance" data-testid="out-of-tolerance">
    <ul>
      <li>
        <RouterLink class="btn" :class="fills('span', 'rezero')" :to="to('zero_and_span')">Adjust again</RouterLink>
        <span class="small quiet">{{ would('span') || 'zero and span' }}</span>
      </li>
      <li v-if="(a?.adjust.most_points ?? 1) > 1">
        <RouterLink class="btn" :class="fills('points')" :to="to('zero_and_span')">More points</RouterLink>
        <span class="small quiet">{{ would('points') || 'where the error is bowed' }}</span>
      </li>
      <li v-if="corners">
        <button type="button" class="btn" :class="fills('corners')" @click="$emit('corners')">
          Eccentricity (corners)
        </button>
        <span class="small quiet">a weak cell shows there, and no span cures it</span>
      </li>
      <li>
        <RouterLink class="btn" :class="fills('repair', 'setup', 'wait')" :to="to('look_over')"
          >Look over and repair</RouterLink
        >
        <span class="small quiet">{{ data?.diagnosis?.says || 'what rubs, leans or is loose' }}</span>
      </li>
    </ul>
    <p class="small quiet">More readings tell more of the cause; the record will say that it is out of tolerance.</p>
  </section>
</template>

<style scoped>
.out ul {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(15rem, 1fr));
  gap: 0.5rem 1.2rem;
}
.out li {
  display: flex;
  gap: 0.7rem;
  align-items: center;
}
.out .btn {
  flex: none;
}
</style>
