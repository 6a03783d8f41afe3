<script setup lang="ts">
import SteadyRing from '../drawings/SteadyRing.vue'
import type { LiveView } from '../api/types'

defineProps<{ live: LiveView }>()
</script>

<template>
  <section class="live" aria-label="Live reading">
    <SteadyRing :held="live.held" :steady="live.steady" :connected="live.connected" />
    <div>
      <p class="figure reading" data-testid="live-reading">{{ live.shown ?? '– – –' }}</p>
      <p class="small">
        <strong data-testid="live-says">{{ live.says }}</strong>
        <template v-if="live.connected">
          · restarts {{ live.restarts }} · noise {{ (live.noise_d ?? 0).toFixed(2) }} d<template v-if="live.counts">
            · counts <span class="figure">{{ live.counts }}</span></template
          ></template
        >
      </p>
      <p v-if="live.unit_note" class="wrong" role="alert" data-testid="unit-note">{{ live.unit_note }}</p>
      <p v-if="live.odd_lines" class="small wrong">
        {{ live.odd_lines }} line{{ live.odd_lines === 1 ? '' : 's' }} not understood and not taken. {{ live.last_odd }}
      </p>
    </div>
  </section>
</template>

<style scoped>
.live {
  display: flex;
  gap: 1.2rem;
  align-items: center;
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--rule);
  padding: 0.25rem 0;
}
.reading {
  font-size: 2.9rem;
  line-height: 1.1;
  font-weight: 600;
}
</style>
