<script setup lang="ts">
import { told } from '../ui/format'
import { computed } from 'vue'
import type { PlannedStep } from '../api/types'

// The platform from above: where each piece stands, what comes on now is filled in copper.
const props = defineProps<{ step: PlannedStep }>()
const WIDE = 300
const DEEP = 200
const EDGE = 26
const heaviest = computed(() => Math.max(...props.step.on.map((p) => p.drawn), 1e-9))
const coming = computed(() => new Set(props.step.put.map((p) => p.id)))
/** Pieces at one place lie side by side around it, the heaviest drawn largest. */
const blocks = computed(() => {
  const at = new Map<string, number>()
  return props.step.placements.map((placement) => {
    const piece = props.step.on.find((p) => p.id === placement.piece)
    const nth = at.get(String(placement.place)) ?? 0
    at.set(String(placement.place), nth + 1)
    const size = 13 + 17 * Math.sqrt((piece?.drawn ?? 0) / heaviest.value)
    const x = EDGE + placement.x * WIDE + ((nth % 3) - 1) * 21
    const y = EDGE + placement.y * DEEP + (Math.floor(nth / 3) % 3) * 19 - (nth > 2 ? 10 : 0)
    return { id: placement.piece, x, y, size, serial: piece?.serial ?? '', now: coming.value.has(placement.piece) }
  })
})
const places = computed(() => {
  const by = new Map<string, string[]>()
  for (const placement of props.step.placements)
    by.set(String(placement.place), [
      ...(by.get(String(placement.place)) ?? []),
      props.step.on.find((p) => p.id === placement.piece)?.serial ?? '',
    ])
  return [...by].map(([place, serials]) => `${place}: ${serials.join(', ')}`)
})
</script>

<template>
  <figure>
    <svg
      :viewBox="`0 0 ${WIDE + 2 * EDGE} ${DEEP + 2 * EDGE + 14}`"
      role="img"
      :aria-label="
        $t('platform-top-the-platform-from-above-with', { load: told(step.load.value), unit: step.load.unit })
      "
    >
      <rect :x="EDGE" :y="EDGE" :width="WIDE" :height="DEEP" class="plate" />
      <g
        v-for="[x, y] in [
          [0, 0],
          [1, 0],
          [0, 1],
          [1, 1],
        ]"
        :key="`${x}${y}`"
      >
        <circle :cx="EDGE + x * WIDE" :cy="EDGE + y * DEEP" r="9" class="foot" />
      </g>
      <g v-for="b in blocks" :key="b.id" :class="{ now: b.now }">
        <rect :x="b.x - b.size / 2" :y="b.y - b.size / 2" :width="b.size" :height="b.size" class="block">
          <title>{{ b.serial }}</title>
        </rect>
      </g>
      <text :x="EDGE + WIDE / 2" :y="DEEP + 2 * EDGE + 8" text-anchor="middle">
        {{ $t('corner-drawing-front-where-you-stand') }}
      </text>
    </svg>
    <figcaption class="small quiet">{{ places.join(' · ') }}</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
  max-width: 22rem;
  display: block;
}
.plate {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2;
}
.foot {
  fill: var(--rule-2);
  stroke: var(--ink-2);
}
.block {
  fill: var(--shade);
  stroke: var(--shade-ink);
  stroke-width: 1.2;
}
.now .block {
  fill: var(--next);
  stroke: var(--ink);
}
text {
  font: 12px var(--text);
  fill: var(--ink-2);
}
</style>
