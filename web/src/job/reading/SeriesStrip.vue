<script setup lang="ts">
import { figure } from '../../words'
import type { TestView } from '../../api/types'

// The readings of a test in their order, each with a mark as far off the others as it lies.
defineProps<{ series: TestView['series'] }>()
</script>

<template>
  <ol class="strip" :aria-label="$t('test-form-the-series')">
    <li v-for="r in series" :key="r.entry" class="figure">
      {{ figure(r.shown_text)
      }}<span class="bar" :style="{ left: `calc(50% + ${Math.max(-3, Math.min(3, r.off_d)) * 14}%)` }"></span>
    </li>
  </ol>
</template>

<style scoped>
.strip {
  display: flex;
  gap: 0.4rem 1rem;
  flex-wrap: wrap;
}
.strip li {
  position: relative;
  padding-bottom: 0.55rem;
  border-bottom: 2px solid var(--rule);
}
.bar {
  position: absolute;
  bottom: -1px;
  width: 4px;
  height: 9px;
  background: var(--ink);
}
</style>
