<script setup lang="ts">
import { computed } from 'vue'
import type { WeekCount } from '../api/types'
import { dayText } from '../work/words'

// How many scales are due in each week: one column a week, so that a full one is seen before it comes.
const props = defineProps<{ weeks: WeekCount[]; overdue: number }>()
const W = 760
const H = 96
const g = computed(() => {
  const all = [{ name: 'overdue', count: props.overdue, late: true }, ...props.weeks.map((w) => ({ name: dayText(w.week), count: w.count, late: false }))]
  const most = Math.max(1, ...all.map((w) => w.count))
  const wide = Math.min(64, W / all.length)
  const tall = (n: number) => (n / most) * (H - 44)
  // Figures stand over each column as long as they have room, else over the fullest.
  return all.map((w, i) => ({ ...w, x: i * wide, wide, tall: tall(w.count), top: H - 22 - tall(w.count), says: wide > 26 || w.count === most || w.late, named: i === 0 || wide > 60 || i % Math.ceil(70 / wide) === 1 }))
})
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`${overdue} overdue, then by week: ${weeks.map((w) => w.count).join(', ')}`">
    <g v-for="c in g" :key="c.name" :class="{ late: c.late }">
      <rect :x="c.x + 3" :y="c.top" :width="c.wide - 6" :height="Math.max(c.tall, c.count ? 1 : 0)" />
      <text v-if="c.says && c.count" :x="c.x + c.wide / 2" :y="c.top - 4" text-anchor="middle">{{ c.count }}</text>
      <text v-if="c.named" :x="c.x + (c.late ? 3 : 3)" :y="H - 6" class="name">{{ c.name.replace(/,? ?\d{4}$/, '') }}</text>
      <title>{{ c.late ? 'Overdue' : `Week of ${c.name}` }}: {{ c.count }}</title>
    </g>
    <path :d="`M0 ${H - 22}H${W}`" class="base" />
  </svg>
</template>

<style scoped>
svg { display: block; width: 100%; max-width: 62rem; }
rect { fill: var(--shade-ink); }
.late rect { fill: var(--light-ink); }
.base { stroke: var(--ink-2); }
text { font: 12px var(--figure); fill: var(--ink); }
.name { font-family: var(--text); fill: var(--ink-2); }
</style>
