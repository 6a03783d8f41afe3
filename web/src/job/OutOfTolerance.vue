<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import { useDiagnosis } from '../api/judgement'
import { percent } from '../ui/format'
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
  const share = say('out-of-tolerance-round-of-the-tolerance', { round: percent(way.worst_share) })
  return way.within
    ? say('out-of-tolerance-would-leave-share-at-the', { share })
    : say('out-of-tolerance-would-still-leave-share', { share })
}
const to = (stage: string) => ({ name: 'job', params: { job: job.id, stage } })
const fills = (...acts: string[]) => ({ 'btn-next': acts.includes(advice.value ?? '') })
const corners = computed(() => a.value?.proof.tests.some((t) => t.test === 'eccentricity'))
</script>

<template>
  <section class="out" :aria-label="$t('out-of-tolerance-out-of-tolerance')" data-testid="out-of-tolerance">
    <ul>
      <li>
        <RouterLink class="btn" :class="fills('span', 'rezero')" :to="to('zero_and_span')">{{
          $t('out-of-tolerance-adjust-again')
        }}</RouterLink>
        <span class="small quiet">{{ would('span') || $t('out-of-tolerance-zero-and-span') }}</span>
      </li>
      <li v-if="(a?.adjust.most_points ?? 1) > 1">
        <RouterLink class="btn" :class="fills('points')" :to="to('zero_and_span')">{{
          $t('out-of-tolerance-more-points')
        }}</RouterLink>
        <span class="small quiet">{{ would('points') || $t('out-of-tolerance-where-the-error-is-bowed') }}</span>
      </li>
      <li v-if="corners">
        <button type="button" class="btn" :class="fills('corners')" @click="$emit('corners')">
          {{ $t('out-of-tolerance-eccentricity-corners') }}
        </button>
        <span class="small quiet">{{ $t('out-of-tolerance-a-weak-cell-shows-there') }}</span>
      </li>
      <li>
        <RouterLink class="btn" :class="fills('repair', 'setup', 'wait')" :to="to('look_over')">{{
          $t('out-of-tolerance-look-over-and-repair')
        }}</RouterLink>
        <span class="small quiet">{{ data?.diagnosis?.says || $t('out-of-tolerance-what-rubs-leans-or-is') }}</span>
      </li>
    </ul>
    <p class="small quiet">{{ $t('out-of-tolerance-more-readings-tell-more-of') }}</p>
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
