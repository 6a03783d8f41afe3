<script setup lang="ts">
import type { PlanReply } from '../api/types'

// How good something is, said with its colour: a span, or material in place of weights.
type Grade = NonNullable<PlanReply['span']>['grade'] | NonNullable<PlanReply['plan']['substitution']>['grade']
defineProps<{ grade: Grade }>()
const INK: Record<Grade, string> = {
  sound: 'good',
  thin: 'doubtful',
  caution: 'doubtful',
  blind: 'bad',
  refuse: 'bad',
}
</script>

<template>
  <strong :class="INK[grade]"><slot /></strong>
</template>

<style scoped>
.good {
  color: var(--shade-ink);
}
.doubtful {
  color: var(--caution);
}
.bad {
  color: var(--light-ink);
}
</style>
