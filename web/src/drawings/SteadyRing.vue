<script setup lang="ts">
import { computed } from 'vue'

// Fills over the hold time; closed and marked when the reading is steady.
const props = defineProps<{ held: number; steady: boolean; connected: boolean }>()
const around = 2 * Math.PI * 34
const dash = computed(() => `${(props.connected ? props.held : 0) * around} ${around}`)
</script>

<template>
  <svg viewBox="0 0 84 84" class="ring" aria-hidden="true">
    <circle cx="42" cy="42" r="34" class="groove" />
    <circle
      cx="42"
      cy="42"
      r="34"
      class="fill"
      :class="{ steady }"
      :stroke-dasharray="dash"
      transform="rotate(-90 42 42)"
    />
    <path v-if="steady" d="M27 43.5h30M27 35.5h30" class="still" />
    <path v-else-if="connected" d="M25 42q4.25-9 8.5 0t8.5 0 8.5 0 8.5 0" class="wave" />
    <path v-else d="M31 31l22 22M53 31L31 53" class="wave" />
  </svg>
</template>

<style scoped>
.ring {
  width: 4.5rem;
  height: 4.5rem;
  flex: none;
}
.groove {
  fill: none;
  stroke: var(--rule-2);
  stroke-width: 9;
}
.fill {
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 9;
}
.fill.steady {
  stroke: var(--shade-ink);
}
.still {
  stroke: var(--shade-ink);
  stroke-width: 5;
}
.wave {
  stroke: var(--ink-2);
  stroke-width: 3.4;
  fill: none;
}
</style>
