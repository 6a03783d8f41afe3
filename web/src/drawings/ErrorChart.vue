<script setup lang="ts">
import { say, figure } from '../words'
import { computed } from 'vue'
import type { ErrorChartData } from '../api/types'
import { chartGeometry } from './error_chart'

// The tolerance over the range as a shadow: a reading inside it is at rest; one outside stands in
// the light. As found is hollow, as left is filled, a line ties the two.
const props = withDefaults(
  defineProps<{ chart: ErrorChartData; size?: 'small' | 'large'; selected?: string | null }>(),
  {
    size: 'large',
    selected: null,
  },
)
const emit = defineEmits<{ select: [entry: string] }>()

const LARGE = { width: 440, height: 232, left: 52, right: 16, top: 14, bottom: 34 }
// The longest figure beside the axis needs its room: 7.5 units a digit.
const frame = computed(() =>
  props.size === 'small'
    ? { width: 132, height: 40, left: 5, right: 6, top: 3, bottom: 3 }
    : {
        ...LARGE,
        left: Math.max(LARGE.left, ...chartGeometry(props.chart, LARGE).errors.map((e) => 10 + 7.5 * e.text.length)),
      },
)
const g = computed(() => chartGeometry(props.chart, frame.value))
const title = computed(() => {
  const n = props.chart.found.length + props.chart.left.length
  return say('error-chart-tolerance-from-zero-to-max', {
    max: props.chart.max,
    unit: props.chart.unit,
    n,
  })
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${frame.width} ${frame.height}`"
    :class="['error-chart', size]"
    :role="size === 'large' ? 'group' : 'img'"
    :aria-label="title"
  >
    <path :d="g.outline" class="shadow" />
    <path :d="`M${frame.left} ${g.zero}H${frame.width - frame.right}`" class="axis" />
    <template v-if="size === 'large'">
      <g v-for="load in g.loads" :key="`l${load.x}`">
        <path :d="`M${load.x} ${frame.height - frame.bottom}v5`" class="tick" />
        <text :x="load.x" :y="frame.height - frame.bottom + 17" text-anchor="middle">{{ figure(load.text) }}</text>
      </g>
      <text :x="frame.width - frame.right" :y="frame.height - 3" text-anchor="end" class="unit">
        {{ $t('error-chart-load-unit', { unit: chart.unit }) }}
      </text>
      <text v-for="error in g.errors" :key="`e${error.y}`" :x="frame.left - 6" :y="error.y + 4" text-anchor="end">
        {{ figure(error.text) }}
      </text>
      <text :x="frame.left - 6" :y="g.zero + 4" text-anchor="end">0</text>
      <text :x="2" :y="frame.height - 3" class="unit">{{ $t('error-chart-error-unit', { unit: chart.unit }) }}</text>
    </template>
    <path :d="g.ties" class="tie" />
    <path v-if="size === 'large'" :d="g.left.map((m) => m.whisker).join('')" class="whisker" />
    <g
      v-for="m in g.found"
      :key="m.key"
      class="found"
      :class="{ lit: !m.within, chosen: m.key === selected }"
      :tabindex="size === 'large' ? 0 : undefined"
      :role="size === 'large' ? 'button' : undefined"
      :aria-label="$t('error-chart-as-found-says', { says: m.says })"
      @click="emit('select', m.key)"
      @keydown.enter="emit('select', m.key)"
    >
      <circle :cx="m.x" :cy="m.y" :r="size === 'small' ? 2.6 : 5.5" />
      <title>{{ $t('error-chart-as-found-says', { says: m.says }) }}</title>
      <path v-if="!m.within && size === 'large'" :d="`M${m.x - 8} ${m.y + (m.y < g.zero ? -10 : 10)}h16`" class="ray" />
    </g>
    <g
      v-for="m in g.left"
      :key="m.key"
      class="left"
      :class="{ lit: !m.within, chosen: m.key === selected }"
      :tabindex="size === 'large' ? 0 : undefined"
      :role="size === 'large' ? 'button' : undefined"
      :aria-label="$t('error-chart-as-left-says', { says: m.says })"
      @click="emit('select', m.key)"
      @keydown.enter="emit('select', m.key)"
    >
      <path
        v-if="m.down"
        :d="size === 'small' ? `M${m.x - 2.6} ${m.y - 2}h5.2l-2.6 4.6z` : `M${m.x - 6} ${m.y - 4.5}h12l-6 10.5z`"
      />
      <circle v-else :cx="m.x" :cy="m.y" :r="size === 'small' ? 2.4 : 5" />
      <title>{{ $t('error-chart-as-left-says', { says: m.says }) }}</title>
      <path v-if="!m.within && size === 'large'" :d="`M${m.x - 8} ${m.y + (m.y < g.zero ? -10 : 10)}h16`" class="ray" />
    </g>
  </svg>
</template>

<style scoped>
.error-chart {
  display: block;
  width: 100%;
}
.small {
  width: 8.25rem;
  height: 2.5rem;
}
.shadow {
  fill: var(--shade);
}
.axis {
  stroke: var(--ink-2);
  stroke-width: 1;
  stroke-dasharray: 1 4;
}
.tick {
  stroke: var(--ink-2);
}
.tie {
  stroke: var(--ink);
  stroke-width: 1.3;
  fill: none;
}
text {
  font-family: var(--figure);
  font-size: 12px;
  fill: var(--ink-2);
}
.unit {
  font-family: var(--text);
}
.whisker {
  stroke: var(--ink-2);
  stroke-width: 1.2;
  fill: none;
}
.found circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
}
.small .found circle {
  stroke-width: 1.1;
}
.left circle,
.left path {
  fill: var(--ink);
}
.lit circle {
  stroke: var(--light-ink);
}
.left.lit circle,
.left.lit path {
  fill: var(--light-ink);
}
.ray {
  stroke: var(--light-ink);
  stroke-width: 2.4;
  fill: none !important;
}
.chosen circle,
.chosen path {
  stroke: var(--focus);
  stroke-width: 3;
}
.large g.found,
.large g.left {
  cursor: pointer;
}
</style>
