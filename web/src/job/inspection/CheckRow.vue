<script setup lang="ts">
import { say } from '../../words'
import { computed } from 'vue'
import type { Assessment } from '../../api/types'

type Check = Assessment['inspection'][number]
const props = defineProps<{ check: Check; current: boolean }>()
defineEmits<{ choose: [] }>()
const word = computed(() => {
  const c = props.check
  if (c.settled) return c.settled
  if (!c.finding) return ''
  return {
    ok: say('check-row-in-order'),
    fault: c.stops ? say('check-row-fault-stops') : say('check-row-fault'),
    not_applicable: say('check-row-not-applicable'),
  }[c.finding]
})
</script>

<template>
  <li :class="{ current }">
    <button type="button" :aria-current="current ? 'true' : undefined" @click="$emit('choose')">
      <span class="dot" :class="check.stops ? 'stop' : check.finding ? 'seen' : ''" aria-hidden="true"></span>
      <span>{{ check.label }}</span>
      <span class="word small" :class="{ stop: check.stops }">{{ word }}</span>
    </button>
  </li>
</template>

<style scoped>
button {
  font: inherit;
  color: inherit;
  background: none;
  border: none;
  border-bottom: 1px solid var(--rule-2);
  width: 100%;
  text-align: left;
  padding: 0.3rem 0.4rem;
  min-height: 2.3rem;
  display: flex;
  gap: 0.7rem;
  align-items: center;
  cursor: pointer;
}
.current button {
  background: var(--shade-2);
  font-weight: 650;
}
.dot {
  flex: none;
  width: 0.8rem;
  height: 0.8rem;
  border: 1.6px solid var(--ink-2);
}
.dot.seen {
  background: var(--shade);
  border-color: var(--shade-ink);
}
.dot.stop {
  background: var(--light-ink);
  border-color: var(--light-ink);
  transform: rotate(45deg);
}
.word {
  margin-left: auto;
  color: var(--ink-2);
  font-weight: 500;
}
.word.stop {
  color: var(--light-ink);
  font-weight: 700;
}
</style>
