<script setup lang="ts">
import type { KeyStep } from '../api/types'

// What the display shows, what is pressed, what it shows then.
defineProps<{ step: KeyStep; large?: boolean }>()
</script>

<template>
  <ol :class="['moves', { large }]">
    <li v-for="(move, index) in step.moves" :key="index">
      <span class="display figure" :title="$t('key-moves-the-display-shows')">{{ move.shows || '\u00A0' }}</span>
      <span class="keys">
        <span v-for="(press, at) in move.presses" :key="at" :class="press.by_hand ? 'hand' : 'cap'"
          >{{ press.cap }}<b v-if="press.times > 1" class="times">×{{ press.times }}</b></span
        >
      </span>
      <span v-if="move.until" class="arrow">{{ $t('key-moves-until') }}</span>
      <span v-else aria-hidden="true" class="arrow">→</span>
      <span class="display figure then"
        ><span class="sr-only">{{ $t('key-moves-then-it-shows') }} </span>{{ move.then || '\u00A0' }}</span
      >
    </li>
  </ol>
</template>

<style scoped>
.moves {
  display: flex;
  flex-direction: column;
  gap: 0.35rem;
}
li {
  display: grid;
  grid-template-columns: minmax(5.5rem, auto) 1fr auto minmax(5.5rem, auto);
  gap: 0.6rem;
  align-items: center;
}
.display {
  background: var(--ink);
  color: var(--paper);
  padding: 0.15rem 0.5rem;
  text-align: right;
  border-radius: 2px;
  font-weight: 600;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem;
}
.cap {
  border: 1.5px solid var(--ink);
  border-bottom-width: 3.5px;
  border-radius: 4px;
  padding: 0.05rem 0.5rem;
  font-weight: 650;
  background: var(--sheet);
  min-width: 2rem;
  text-align: center;
}
.hand {
  border-left: 3px solid var(--ink-2);
  padding: 0.05rem 0.5rem;
  font-weight: 600;
}
.times {
  font-weight: 500;
  padding-left: 0.3rem;
}
.arrow {
  color: var(--ink-2);
}
.large .display {
  font-size: 1.5rem;
  padding: 0.3rem 0.8rem;
  min-width: 7.5rem;
}
.large .cap {
  font-size: 1.4rem;
  padding: 0.2rem 0.8rem;
}
.large .hand {
  font-size: 1.15rem;
}
@media (max-width: 40rem) {
  li {
    grid-template-columns: 1fr auto 1fr;
  }
  .keys {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
