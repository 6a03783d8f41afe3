<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import type { WeekCount } from '../api/types'
import { dayText } from '../ui/format'

// How many scales are due in each week: one column a week, so that a full one is seen before it comes.
const props = defineProps<{ weeks: WeekCount[]; overdue: number }>()
const W = 760
const H = 96
// What is overdue stands apart, with room for its word however many weeks follow.
const LATE = 72
const g = computed(() => {
  // The weeks are what is planned: a long queue from before is cut off at the top, and says its figure.
  const most = Math.max(...props.weeks.map((w) => w.count), 0) || Math.max(1, props.overdue)
  const wide = Math.min(64, (W - LATE) / Math.max(1, props.weeks.length))
  const column = (name: string, count: number, x: number, width: number) => ({
    name,
    count,
    x,
    wide: width,
    tall: Math.min(1, count / most) * (H - 44),
    top: H - 22 - Math.min(1, count / most) * (H - 44),
    cut: count > most,
  })
  const step = Math.ceil(70 / wide)
  // Figures stand over each column as long as they have room, else over the fullest.
  const weeks = props.weeks.map((w, i) => ({
    ...column(dayText(w.week), w.count, LATE + i * wide, wide),
    late: false,
    says: wide > 26 || w.count === most,
    named: i % step === 0,
  }))
  return [
    { ...column(say('week-load-overdue'), props.overdue, 0, LATE - 8), late: true, says: true, named: true },
    ...weeks,
  ]
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    :aria-label="$t('week-load-overdue-overdue-then-by-week', { overdue, what: weeks.map((w) => w.count).join(', ') })"
  >
    <g v-for="c in g" :key="c.name" :class="{ late: c.late }">
      <rect :x="c.x + 3" :y="c.top" :width="c.wide - 6" :height="Math.max(c.tall, c.count ? 1 : 0)" />
      <path v-if="c.cut" :d="`M${c.x} ${c.top + 15}l${c.wide} -7v4l${-c.wide} 7z`" class="cut" />
      <text v-if="c.says && c.count" :x="c.x + c.wide / 2" :y="c.top - 4" text-anchor="middle">{{ c.count }}</text>
      <text v-if="c.named" :x="c.x + 3" :y="H - 6" class="name">{{ c.name.replace(/,? ?\d{4}$/, '') }}</text>
      <title>
        {{ c.late ? $t('week-load-overdue') : $t('week-load-week-of-name', { name: c.name }) }}: {{ c.count }}
      </title>
    </g>
    <path :d="`M0 ${H - 22}H${W}`" class="base" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 62rem;
}
rect {
  fill: var(--shade-ink);
}
.late rect {
  fill: var(--light-ink);
}
.cut {
  fill: var(--paper);
}
.base {
  stroke: var(--ink-2);
}
text {
  font: 12px var(--figure);
  fill: var(--ink);
}
.name {
  font-family: var(--text);
  fill: var(--ink-2);
}
</style>
