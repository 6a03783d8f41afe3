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
  return props.step.stands.map((stand) => {
    const piece = props.step.on.find((p) => p.id === stand.piece)
    const nth = at.get(String(stand.place)) ?? 0
    at.set(String(stand.place), nth + 1)
    const size = 13 + 17 * Math.sqrt((piece?.drawn ?? 0) / heaviest.value)
    const x = EDGE + stand.x * WIDE + ((nth % 3) - 1) * 21
    const y = EDGE + stand.y * DEEP + (Math.floor(nth / 3) % 3) * 19 - (nth > 2 ? 10 : 0)
    return { id: stand.piece, x, y, size, serial: piece?.serial ?? '', now: coming.value.has(stand.piece) }
  })
})
const places = computed(() => {
  const by = new Map<string, string[]>()
  for (const stand of props.step.stands)
    by.set(String(stand.place), [
      ...(by.get(String(stand.place)) ?? []),
      props.step.on.find((p) => p.id === stand.piece)?.serial ?? '',
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
