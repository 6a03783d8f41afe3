<script setup lang="ts">
import { computed } from 'vue'
import type { Spoken } from '../api/types'
import { rounded } from '../ui/format'

// What was read, and what the cause alone would have shown, reading by reading in their order.
const props = defineProps<{ shows: Spoken[]; label: string; names: string[] }>()
const width = 360
const height = 120
const left = 46
const widest = computed(() => Math.max(1, ...props.shows.flatMap((s) => [Math.abs(s.error_d), Math.abs(s.by_cause_d)])))
const x = (i: number) => left + ((i + 0.5) / Math.max(1, props.shows.length)) * (width - left - 6)
const y = (d: number) => height / 2 - (d / widest.value) * (height / 2 - 10)
const line = computed(() => props.shows.map((s, i) => `${i ? 'L' : 'M'}${x(i)} ${y(s.by_cause_d)}`).join(''))
const most = computed(() => `${rounded(widest.value, widest.value < 10 ? 1 : 0)} d`)
</script>

<template>
  <figure class="cause-chart">
    <svg :viewBox="`0 0 ${width} ${height}`" role="img" :aria-label="$t('cause-chart-read-and-by-cause', { label })">
      <line :x1="left" :x2="width" :y1="height / 2" :y2="height / 2" class="zero" />
      <text :x="left - 6" :y="y(widest) + 4" class="axis">+{{ most }}</text>
      <text :x="left - 6" :y="height / 2 + 4" class="axis">0 d</text>
      <text :x="left - 6" :y="y(-widest) + 4" class="axis">−{{ most }}</text>
      <path :d="line" class="by-cause" />
      <circle v-for="(s, i) in shows" :key="s.entry" :cx="x(i)" :cy="y(s.error_d)" r="3.2" class="read">
        <title>{{ names[i] }}</title>
      </circle>
    </svg>
    <figcaption class="small quiet">{{ $t('cause-chart-dots-and-line') }}</figcaption>
  </figure>
</template>

<style scoped>
.cause-chart {
  max-width: 32rem;
  margin: 0.3rem 0;
}
svg {
  width: 100%;
  height: auto;
}
.zero {
  stroke: var(--rule-2);
}
.by-cause {
  fill: none;
  stroke: var(--ink);
  stroke-dasharray: 4 3;
}
.read {
  fill: var(--ink);
}
.axis {
  font-size: 11px;
  text-anchor: end;
  fill: var(--ink);
  font-variant-numeric: tabular-nums;
}
</style>
