<script setup lang="ts">
import { rounded } from '../ui/format'
import { computed } from 'vue'
import type { SignalBar } from '../api/types'

// Dead load, zero, span weight, Max and overload on the cells' millivolt scale, and the input's range.
const props = defineProps<{ bar: SignalBar }>()
const WIDE = 460
const LEFT = 14
const ends = computed(() => {
  const all = props.bar.marks.map((m) => m.mV).concat(props.bar.input_mV ?? [])
  const [low, high] = [Math.min(0, ...all), Math.max(...all)]
  return { low, span: (high - low || 1) * 1.04 }
})
const x = (mv: number): number => LEFT + ((mv - ends.value.low) / ends.value.span) * (WIDE - 2 * LEFT)
const input = computed(() => {
  const [low, high] = props.bar.input_mV ?? []
  return low === undefined || high === undefined ? null : { low, high }
})
const at = (what: string) => props.bar.marks.find((m) => m.what.say === `signal-bar-${what}`)?.mV
const used = computed(() => ({ from: x(at('zero') ?? 0), to: x(at('max') ?? 0) }))
// Labels alternate above and below, so that near marks can be read.
const marks = computed(() => props.bar.marks.map((m, i) => ({ ...m, x: x(m.mV), up: i % 2 === 0 })))
const anchor = (at: number): 'start' | 'middle' | 'end' => (at < 60 ? 'start' : at > WIDE - 60 ? 'end' : 'middle')
const says = computed(() => props.bar.marks.map((m) => `${m.what} ${rounded(m.mV, 2)} mV`).join(', '))
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDE} 118`" role="img" :aria-label="$t('signal-bar-signal-of-the-cells-says', { says })">
      <rect v-if="input" :x="x(input.low)" y="50" :width="x(input.high) - x(input.low)" height="18" class="input" />
      <rect :x="used.from" y="54" :width="Math.max(0, used.to - used.from)" height="10" class="used" />
      <g v-for="m in marks" :key="String(m.what)">
        <line
          :x1="m.x"
          :x2="m.x"
          :y1="m.up ? 34 : 46"
          :y2="m.up ? 72 : 84"
          :class="['mark', { over: m.what.say === 'signal-bar-overload' }]"
        />
        <text :x="m.x" :y="m.up ? 16 : 98" :text-anchor="anchor(m.x)">{{ m.what }}</text>
        <text :x="m.x" :y="m.up ? 29 : 111" :text-anchor="anchor(m.x)" class="mv">{{ rounded(m.mV, 2) }} mV</text>
      </g>
    </svg>
    <figcaption class="small quiet">
      <template v-if="input"
        >{{ $t('signal-bar-input') }}
        <span class="figure">{{ $t('signal-bar-low-to-high-mv', { low: input.low, high: input.high }) }}</span><template
          v-if="bar.headroom_percent !== null"
          >{{
            $t('signal-bar-headroom-percent-headroom-above-max', { headroom_percent: rounded(bar.headroom_percent, 0) })
          }}</template
        ></template
      >
      <template v-else>{{ $t('signal-bar-the-indicator-s-input-range') }}</template>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
  max-width: 34rem;
  display: block;
}
.input {
  fill: var(--shade-2);
  stroke: var(--rule);
}
.used {
  fill: var(--shade-ink);
  opacity: 0.55;
}
.mark {
  stroke: var(--ink);
  stroke-width: 2;
}
.over {
  stroke: var(--light-ink);
  stroke-dasharray: 4 3;
}
text {
  font: 600 11px var(--text);
  fill: var(--ink);
}
.mv {
  font: 11px var(--figure);
  fill: var(--ink-2);
}
</style>
