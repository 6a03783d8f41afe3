<script setup lang="ts">
import { computed } from 'vue'
import type { Rate } from '../api/types'

// Checks by month: the light column is every scale that was read as found, the dark foot those outside.
const props = defineProps<{ months: Rate[] }>()
const W = 960
const H = 190
const L = 60
const B = 30
const T = 12
const g = computed(() => {
  const most = Math.max(1, ...props.months.map((m) => m.read))
  const step =
    [1, 2, 5]
      .flatMap((s) => [1, 10, 100, 1000, 10000, 100000].map((p) => s * p))
      .sort((a, b) => a - b)
      .find((s) => most / s <= 4) ?? most
  const top = Math.ceil(most / step) * step
  const wide = (W - L - 24) / Math.max(props.months.length, 12)
  const y = (n: number) => T + (1 - n / top) * (H - T - B)
  const columns = props.months.map((m, i) => ({
    ...m,
    x: L + i * wide,
    y: y(m.read),
    foot: y(m.outside),
    named: i % Math.max(1, Math.ceil(props.months.length / 12)) === 0,
  }))
  return {
    columns,
    wide,
    base: y(0),
    lines: Array.from({ length: Math.round(top / step) + 1 }, (_, i) => ({ n: i * step, y: y(i * step) })),
  }
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    :aria-label="$t('month-columns-checks-by-month-count-months', { count: months.length })"
  >
    <g v-for="l in g.lines" :key="l.n">
      <path :d="`M${L} ${l.y}H${W}`" class="line" />
      <text :x="L - 6" :y="l.y + 4" text-anchor="end">{{ l.n }}</text>
    </g>
    <g v-for="c in g.columns" :key="String(c.label)">
      <rect :x="c.x + g.wide * 0.12" :y="c.y" :width="g.wide * 0.76" :height="g.base - c.y" class="read" />
      <rect :x="c.x + g.wide * 0.12" :y="c.foot" :width="g.wide * 0.76" :height="g.base - c.foot" class="outside" />
      <text v-if="c.named" :x="c.x + g.wide / 2" :y="H - 10" text-anchor="middle">{{ c.label }}</text>
      <title>{{ c.label }}: {{ c.says }}</title>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 66rem;
}
.line {
  stroke: var(--rule);
}
.read {
  fill: var(--shade);
}
.outside {
  fill: var(--light-ink);
}
text {
  font: 13px var(--figure);
  fill: var(--ink-2);
}
</style>
