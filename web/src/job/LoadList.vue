<script setup lang="ts">
import { massText } from '../ui/format'
import { say } from '../words'
import { computed } from 'vue'
import type { ListedLoad } from '../api/types'

// The list of loads, in the order in which they are put on, each with how it stands.
const props = defineProps<{ list: ListedLoad[]; pads: number; active: boolean }>()
const word = computed(() => ({
  done: say('stage-mark-done'),
  next: say('load-list-next'),
  left: '',
  out_of_reach: say('load-list-the-kit-cannot-build-it'),
}))
const lines = computed(() =>
  props.list.map((l, i) => ({
    key: i,
    // Nothing is next in the list where the headline leads elsewhere.
    status: l.status === 'next' && !props.active ? ('left' as const) : l.status,
    purpose: l.purpose,
    load:
      (props.pads > 1 ? `${l.pad ? say('load-list-pad-pad', { pad: l.pad }) : say('load-list-all-pads')}: ` : '') +
      (l.purpose === 'discrimination' ? '1.4 d' : massText(l.load)) +
      (l.place ? `, ${l.place}` : ''),
    down: l.direction === 'down',
    says: (l.status === 'next' && !props.active ? '' : word.value[l.status]) || l.why,
  })),
)
const caution = computed(() => {
  const first = props.list.find((l) => l.caution)
  return first ? `${massText(first.load)}: ${first.caution}` : ''
})
</script>

<template>
  <section>
    <h2>{{ $t('load-list-loads-in-order') }}</h2>
    <p v-if="caution" class="note note-caution small" data-testid="weights-caution">{{ caution }}</p>
    <ol class="wanted small" data-testid="load-list">
      <li
        v-for="l in lines"
        :key="l.key"
        :class="l.status"
        :data-purpose="l.purpose"
        :aria-current="l.status === 'next' ? 'step' : undefined"
      >
        <span class="figure"
          ><template v-if="l.down"
            ><span aria-hidden="true">↓ </span><span class="sr-only">{{ $t('load-list-decreasing') }} </span></template
          >{{ l.load }}</span
        ><span class="quiet">{{ l.says }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.wanted li {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  border-bottom: 1px solid var(--rule-2);
  padding: 0.2rem 0 0.2rem 0.5rem;
  border-left: 4px solid transparent;
}
.wanted .next {
  border-left-color: var(--next);
}
.done .figure,
.out_of_reach .figure {
  color: var(--ink-2);
}
</style>
