<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import { onKey } from '../state/keys'
import type { PhaseView, TestView } from '../api/types'

// Which part of the check is in hand. The slash of the number pad goes to the next.
const chosen = defineModel<string>({ required: true })
const props = defineProps<{ phase: PhaseView; active: boolean }>()
const tabs = computed(() => [
  { id: 'loads', label: say('check-tabs-loads'), mark: markOfLoads.value },
  ...kinds.value.map((of) => ({ id: of[0]?.test as string, label: of[0]?.label ?? '', mark: markOf(of) })),
])
// What must be read may be read while a further load is still asked for: it is not done before the list says so.
const markOfLoads = computed(() => {
  if (props.phase.lacks.length) return say('check-tabs-to-do')
  const goesOn = props.active && props.phase.loads.some((l) => l.purpose === 'load' && l.status === 'next')
  return goesOn ? say('check-tabs-next') : say('stage-mark-done')
})
// One tab for each test, over all pads: what is furthest from done marks it.
const kinds = computed(() => {
  const by = new Map<string, TestView[]>()
  for (const t of props.phase.tests) if (t.test !== 'zero_return') by.set(t.test, [...(by.get(t.test) ?? []), t])
  return [...by.values()]
})
function markOf(of: TestView[]): string {
  if (of.some((t) => t.within === false)) return say('check-tabs-outside')
  const open = of.find((t) => t.within === null)
  if (!open) return say('stage-mark-done')
  return open.done
    ? say('check-tabs-done-of-wanted', { done: open.done, wanted: open.wanted })
    : open.asked
      ? say('check-tabs-asked-for')
      : say('check-tabs-offered')
}
onKey('part', () => {
  const now = tabs.value.findIndex((t) => t.id === chosen.value)
  chosen.value = tabs.value[(now + 1) % tabs.value.length]?.id ?? 'loads'
})
</script>

<template>
  <div class="tabs" role="group" :aria-label="$t('check-tabs-parts-of-the-check-the')">
    <button
      v-for="t in tabs"
      :key="t.id"
      type="button"
      class="tab"
      :aria-pressed="t.id === chosen"
      @click="chosen = t.id"
    >
      <strong>{{ t.label }}</strong> <span class="small">{{ t.mark }}</span>
    </button>
    <span class="small quiet hint-key"><span class="figure">/</span> {{ $t('check-tabs-next-tab') }}</span>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 0.2rem 1.2rem;
  align-items: baseline;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--rule);
}
.tab {
  font: inherit;
  background: none;
  border: none;
  color: var(--ink-2);
  cursor: pointer;
  min-height: var(--target);
  padding: 0.2rem 0.1rem;
  border-bottom: 4px solid transparent;
}
.tab[aria-pressed='true'] {
  color: var(--ink);
  border-bottom-color: var(--ink);
}
.hint-key {
  margin-left: auto;
}
</style>
