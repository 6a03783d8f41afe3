<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import type { Drift } from '../api/types'

// As found (hollow) and as left (filled) at one load over the years, in the shade of its tolerance. A
// wedge on the base line marks a record in which it was adjusted.
const props = defineProps<{ drift: Drift; adjusted: string[] }>()
const W = 640
const H = 220
const L = 56
const R = 20
const T = 14
const B = 34
const g = computed(() => {
  const d = props.drift
  const last = Math.max(1, ...d.points.map((p) => p.at))
  const worst =
    Math.max(d.mpe * 1.4, ...d.points.flatMap((p) => [Math.abs(p.found ?? 0), Math.abs(p.left ?? 0)])) * 1.05
  const x = (at: number) => L + (at / last) * (W - L - R)
  const y = (e: number) => T + ((worst - e) / (2 * worst)) * (H - T - B)
  const marks = d.points.map((p) => ({
    day: p.day,
    x: x(p.at),
    found: p.found === null ? null : y(p.found),
    left: p.left === null ? null : y(p.left),
    adjusted: props.adjusted.includes(p.day),
    says: say('drift-line-day-found-found-left-left', {
      day: p.day,
      found: p.found ?? '–',
      left: p.left ?? '–',
      unit: d.unit,
    }),
  }))
  const steps = marks
    .map(
      (m, i) =>
        (i && marks[i - 1]?.left != null && m.found !== null
          ? `M${marks[i - 1]?.x} ${marks[i - 1]?.left}L${m.x} ${m.found}`
          : '') + (m.found !== null && m.left !== null ? `M${m.x} ${m.found}L${m.x} ${m.left}` : ''),
    )
    .join('')
  return { marks, steps, top: y(d.mpe), bottom: y(-d.mpe), zero: y(0), eighty: [y(d.near), y(-d.near)] }
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    :aria-label="
      $t('drift-line-error-at-load-unit-over', { load: drift.load, unit: drift.unit, count: drift.points.length })
    "
  >
    <rect :x="L" :y="g.top" :width="W - L - R" :height="g.bottom - g.top" class="shadow" />
    <path v-for="e in g.eighty" :key="e" :d="`M${L} ${e}H${W - R}`" class="eighty" />
    <path :d="`M${L} ${g.zero}H${W - R}`" class="axis" />
    <path :d="g.steps" class="line" />
    <g v-for="m in g.marks" :key="m.day">
      <circle v-if="m.found !== null" :cx="m.x" :cy="m.found" r="5.5" class="found" />
      <circle v-if="m.left !== null" :cx="m.x" :cy="m.left" r="4.5" class="left" />
      <path v-if="m.adjusted" :d="`M${m.x - 6} ${H - B + 8}h12l-6 -9z`" class="left" />
      <title>{{ m.says }}{{ m.adjusted ? $t('drift-line-adjusted') : '' }}</title>
    </g>
    <text :x="L - 6" :y="g.top + 4" text-anchor="end">+{{ drift.mpe }}</text>
    <text :x="L - 6" :y="g.bottom + 4" text-anchor="end">−{{ drift.mpe }}</text>
    <text :x="L - 6" :y="g.zero + 4" text-anchor="end">0</text>
    <text :x="L" :y="H - 8">{{ drift.points[0]?.day }}</text>
    <text :x="W - R" :y="H - 8" text-anchor="end">{{ drift.points.at(-1)?.day }}</text>
    <text :x="W / 2" :y="H - 8" text-anchor="middle" class="unit">
      {{ $t('drift-line-error-at-load-unit-unit2', { load: drift.load, unit: drift.unit, unit2: drift.unit }) }}
    </text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 46rem;
  display: block;
}
.shadow {
  fill: var(--shade);
}
.eighty {
  stroke: var(--shade-ink);
  stroke-dasharray: 6 4;
}
.axis {
  stroke: var(--ink-2);
  stroke-dasharray: 1 4;
}
.line {
  stroke: var(--ink);
  stroke-width: 1.4;
  fill: none;
}
.found {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
}
.left {
  fill: var(--ink);
}
text {
  font: 13px var(--figure);
  fill: var(--ink-2);
}
.unit {
  font-family: var(--text);
}
</style>
