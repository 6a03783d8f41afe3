<script setup lang="ts">
import { say } from '../words'
import { massText, told } from '../ui/format'
import { computed } from 'vue'
import type { CheckPlan, PlannedStep } from '../api/types'

// A vertical rule from zero to Max; the loads as rungs, the pieces stacked to scale on each.
const props = defineProps<{
  plan: CheckPlan
  max: number
  unit: string
  statuses: string[]
  steps?: { from: number; to: number }[]
}>()
const TALL = 430
const TOP = 18
const WIDE = 380
const y = (load: number): number => TOP + (1 - load / (props.max || 1)) * TALL
const amount = (m: { value: string }): number => Number(m.value)
// Rungs that lie close together are spread for their labels, the rung itself stays where it is.
const rungs = computed(() => {
  let free = Number.POSITIVE_INFINITY
  return [...props.plan.steps.map((step, index) => ({ step, index, at: y(amount(step.load)) }))].map((rung) => {
    const label = Math.min(rung.at, free - 26)
    free = label
    return {
      ...rung,
      label,
      state: { done: 'done', next: 'next' }[props.statuses[rung.index] ?? ''] ?? 'ahead',
    }
  })
})
const missing = computed(() => props.plan.lacks.map((l) => ({ ...l, at: y(amount(l.load)) })))
/** Pieces side by side, as wide as their share of the load. */
function blocks(step: PlannedStep): { x: number; w: number; serial: string }[] {
  const total = step.on.reduce((sum, p) => sum + p.drawn, 0) || 1
  let x = 64
  return step.on.map((p) => {
    const w = Math.max(2, (p.drawn / total) * (amount(step.load) / (props.max || 1)) * 150)
    const block = { x, w: w - 1, serial: p.serial }
    x += w
    return block
  })
}
const words = computed<Record<string, string>>(() => ({
  done: say('stage-mark-done'),
  next: say('check-tabs-next'),
  ahead: '',
}))
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDE} ${TALL + 40}`"
    role="img"
    :aria-label="$t('load-ladder-load-ladder-count-loads-up', { count: plan.steps.length, max, unit })"
  >
    <rect
      v-for="s in steps ?? []"
      :key="s.from"
      x="52"
      :y="y(s.to)"
      width="8"
      :height="y(s.from) - y(s.to) - 1"
      class="zone"
    />
    <line x1="56" x2="56" :y1="y(0)" :y2="y(max)" class="rule" />
    <text x="48" :y="y(0) + 4" text-anchor="end">0</text>
    <text x="48" :y="y(max) + 4" text-anchor="end">{{ max }}</text>
    <g v-for="r in rungs" :key="r.index" :class="r.state">
      <line x1="50" x2="62" :y1="r.at" :y2="r.at" class="rung" />
      <polyline v-if="r.label !== r.at" :points="`62,${r.at} 64,${r.label}`" class="lead" />
      <rect
        v-for="b in blocks(r.step)"
        :key="b.serial"
        :x="b.x"
        :y="r.label - 10"
        :width="b.w"
        height="11"
        class="block"
      >
        <title>{{ b.serial }}</title>
      </rect>
      <text x="222" :y="r.label" class="load">{{ massText(r.step.load) }}</text>
      <text x="318" :y="r.label" class="says">{{ words[r.state] }}</text>
    </g>
    <g v-for="m in missing" :key="m.load.value" class="missing">
      <line x1="50" x2="62" :y1="m.at" :y2="m.at" class="rung" />
      <text x="66" :y="m.at + 4">{{ $t('load-ladder-load-unit-missing', { load: told(m.load.value), unit }) }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 24rem;
  display: block;
}
.rule {
  stroke: var(--ink);
  stroke-width: 2;
}
.zone {
  fill: var(--shade);
}
.rung {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.lead {
  stroke: var(--rule);
  fill: none;
}
.block {
  fill: var(--shade);
  stroke: var(--shade-ink);
  stroke-width: 1;
}
.next .block {
  fill: var(--next);
  stroke: var(--ink);
}
.done .block {
  fill: var(--rule-2);
  stroke: var(--rule);
}
text {
  font: 12px var(--figure);
  fill: var(--ink);
}
.load {
  font-weight: 650;
}
.says {
  font-family: var(--text);
  fill: var(--ink-2);
}
.next .says {
  fill: var(--ink);
  font-weight: 700;
}
.missing .rung {
  stroke: var(--light-ink);
  stroke-dasharray: 3 3;
}
.missing text {
  fill: var(--light-ink);
  font-weight: 650;
}
</style>
