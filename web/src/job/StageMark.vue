<script setup lang="ts">
import { computed } from 'vue'
import { say } from '../words'
import type { StageView } from '../api/types'

defineProps<{ state: StageView['state'] }>()
const words = computed<Record<StageView['state'], string>>(() => ({
  open: say('stage-mark-not-begun'),
  doing: say('stage-mark-begun'),
  done: say('stage-mark-done'),
  not_needed: say('stage-mark-not-needed'),
  stopped: say('stage-mark-stopped'),
}))
</script>

<template>
  <svg viewBox="0 0 22 22" width="22" height="22" role="img" :aria-label="words[state]" class="mark" :class="state">
    <template v-if="state === 'done'">
      <path d="M1 6h20v15H1z" class="fill" />
      <circle cx="11" cy="13.5" r="3.2" class="eye" />
    </template>
    <template v-else-if="state === 'doing'">
      <path d="M1 6h20v15H1z" class="frame" />
      <path d="M1 6h10v15H1z" class="fill" />
    </template>
    <template v-else-if="state === 'stopped'"><path d="M2 2l18 18M20 2L2 20" class="cross" /></template>
    <template v-else-if="state === 'not_needed'"><path d="M1 13.5h20" class="frame" /></template>
    <path v-else d="M1 6h20v15H1z" class="frame" />
  </svg>
</template>

<style scoped>
.mark {
  flex: none;
}
.frame {
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 1.8;
}
.fill {
  fill: var(--shade);
  stroke: var(--shade-ink);
  stroke-width: 1.8;
}
.eye {
  fill: var(--shade-ink);
}
.cross {
  stroke: var(--light-ink);
  stroke-width: 3.4;
}
</style>
