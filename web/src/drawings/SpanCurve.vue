<script setup lang="ts">
import { told } from '../ui/format'
import { computed } from 'vue'
import type { SpanView } from '../api/types'

// Predicted error at Max, as a share of the tolerance, over the span weight.
const props = defineProps<{ span: SpanView; unit: string }>()
const [WIDE, TALL, LEFT, BASE] = [420, 150, 44, 128]
const TOP = 2.2
const max = computed(() => props.span.curve.at(-1)?.weight ?? 1)
const x = (w: number): number => LEFT + (w / max.value) * (WIDE - LEFT - 10)
const y = (r: number): number => BASE - (Math.min(r, TOP) / TOP) * (BASE - 8)
const line = computed(() => props.span.curve.map((p) => `${x(p.weight)},${y(p.ratio)}`).join(' '))
const weight = computed(() => Number(props.span.weight.value))
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDE} ${TALL}`"
    role="img"
    :aria-label="
      $t('span-curve-predicted-error-at-max-over', {
        weight: told(span.weight.value),
        unit: span.weight.unit,
        says: span.says,
      })
    "
  >
    <rect :x="LEFT" :y="y(1 / 3)" :width="WIDE - LEFT - 10" :height="BASE - y(1 / 3)" class="sound" />
    <line :x1="LEFT" :x2="WIDE - 10" :y1="y(1)" :y2="y(1)" class="limit" />
    <text x="40" :y="y(1) + 4" text-anchor="end">{{ $t('span-curve-mpe') }}</text>
    <text x="40" :y="y(1 / 3) + 4" text-anchor="end">⅓</text>
    <polyline :points="line" class="curve" />
    <circle :cx="x(weight)" :cy="y(span.ratio)" r="5.5" class="here" />
    <text :x="x(weight)" :y="TALL - 6" text-anchor="middle" class="strong">{{ told(span.weight.value) }}</text>
    <text :x="WIDE - 10" :y="TALL - 6" text-anchor="end">{{ max }} {{ unit }}</text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 30rem;
  display: block;
}
.sound {
  fill: var(--shade-2);
}
.limit {
  stroke: var(--light-ink);
  stroke-dasharray: 5 4;
}
.curve {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.here {
  fill: var(--ink);
}
text {
  font: 11px var(--figure);
  fill: var(--ink-2);
}
.strong {
  fill: var(--ink);
  font-weight: 700;
}
</style>
