<script setup lang="ts">
import { rounded } from '../ui/format'
import { figure } from '../words'
import SteadyRing from '../drawings/SteadyRing.vue'
import type { LiveView } from '../api/types'

defineProps<{ live: LiveView }>()
</script>

<template>
  <section class="live" :aria-label="$t('live-panel-live-reading')">
    <SteadyRing :held="live.held" :steady="live.steady" :connected="live.connected" />
    <div>
      <p class="figure reading" data-testid="live-reading">{{ figure(live.shown ?? '– – –') }}</p>
      <p class="small">
        <strong data-testid="live-says">{{ live.says }}</strong>
        <template v-if="live.connected">
          {{
            $t('live-panel-restarts-restarts-noise-x-d', {
              restarts: live.restarts,
              x: rounded(live.noise_d ?? 0, 2),
            })
          }}<template v-if="live.counts">
            {{ ' ' }}{{ $t('live-panel-counts') }} <span class="figure">{{ live.counts }}</span></template
          ></template
        >
      </p>
      <p v-if="live.unit_note" class="wrong" role="alert" data-testid="unit-note">{{ live.unit_note }}</p>
      <p v-if="live.odd_lines" class="small wrong">
        {{
          $t('live-panel-odd-lines-lines-not-understood', {
            odd_lines: live.odd_lines,
            last_odd: live.last_odd,
          })
        }}
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
