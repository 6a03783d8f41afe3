<script setup lang="ts">
import { figure } from '../words'
import { computed } from 'vue'
import type { PositionView } from '../api/types'

// The platform from above: each place can be tapped; its error leans the plate, drawn as a stroke
// up (too much) or down (too little) from where it stands.
const props = defineProps<{ positions: PositionView[]; chosen: number | null; plain?: boolean }>()
defineEmits<{ choose: [position: number] }>()
const WIDE = 300
const DEEP = 180
const EDGE = 24
const worst = computed(() => Math.max(1, ...props.positions.map((s) => Math.abs(s.error_d ?? 0))))
const marks = computed(() =>
  props.positions.map((s) => {
    const lean = ((s.error_d ?? 0) / worst.value) * 26
    return { ...s, cx: EDGE + s.x * WIDE, cy: EDGE + s.y * DEEP, lean: Math.abs(lean) < 1 ? 0 : lean }
  }),
)
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDE + 2 * EDGE} ${DEEP + 2 * EDGE + 12}`"
    role="group"
    :aria-label="$t('corner-drawing-the-platform-from-above')"
  >
    <rect :x="EDGE" :y="EDGE" :width="WIDE" :height="DEEP" class="plate" />
    <g
      v-for="m in marks"
      :key="m.position"
      class="spot"
      :class="{ chosen: m.position === chosen, read: m.shown_text, out: m.within === false }"
      :role="plain ? undefined : 'button'"
      :tabindex="plain ? undefined : 0"
      :aria-pressed="plain ? undefined : m.position === chosen"
      :aria-label="`${m.place}${m.error_text ? `: ${figure(m.error_text)}` : ''}`"
      @click="$emit('choose', m.position)"
      @keydown.enter.prevent="$emit('choose', m.position)"
      @keydown.space.prevent="$emit('choose', m.position)"
    >
      <circle :cx="m.cx" :cy="m.cy" r="24" class="hit" />
      <circle :cx="m.cx" :cy="m.cy" r="10" class="dot" />
      <path
        v-if="m.lean"
        :d="`M${m.cx} ${m.cy}v${-m.lean}m-5 ${m.lean > 0 ? 6 : -6}l5 ${m.lean > 0 ? -6 : 6}l5 ${m.lean > 0 ? 6 : -6}`"
        class="lean"
      />
      <text :x="m.cx" :y="m.lean < 0 ? m.cy - 28 : m.cy + 40" text-anchor="middle">
        {{ m.error_text ? figure(m.error_text) : m.place }}
      </text>
    </g>
    <text :x="EDGE + WIDE / 2" :y="DEEP + 2 * EDGE + 6" text-anchor="middle" class="front">
      {{ $t('corner-drawing-front-where-you-stand') }}
    </text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 24rem;
  display: block;
}
.plate {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2;
}
.spot {
  cursor: pointer;
}
.spot:focus-visible {
  outline: none;
}
.spot:focus-visible .hit {
  stroke: var(--focus);
  stroke-width: 3;
}
.hit {
  fill: transparent;
}
.dot {
  fill: var(--sheet);
  stroke: var(--ink-2);
  stroke-width: 1.8;
}
.read .dot {
  fill: var(--shade-ink);
  stroke: var(--shade-ink);
}
.chosen .hit {
  fill: none;
  stroke: var(--next);
  stroke-width: 3;
}
.out .dot {
  fill: var(--light-ink);
  stroke: var(--light-ink);
}
.lean {
  stroke: var(--ink);
  stroke-width: 2.4;
  fill: none;
}
.out .lean {
  stroke: var(--light-ink);
}
text {
  font: 15px var(--figure);
  fill: var(--ink);
}
.front {
  font: 12px var(--text);
  fill: var(--ink-2);
}
</style>
