<script setup lang="ts">
import { nextTick, onMounted, ref, watch } from 'vue'
import type { Stage } from '../api/types'
import MessageLookup from './MessageLookup.vue'
import NextLine from './NextLine.vue'
import { useJob } from './useJob'

// The card of the current step in the middle, what belongs to it at the side.
const props = defineProps<{ stage: Stage; plain?: boolean }>()
const job = useJob()
const card = ref<HTMLElement | null>(null)
// Whoever works with the keyboard finds the next field under the fingers: after each entry the focus goes to
// what asks for it, unless somebody is typing elsewhere.
async function lead(): Promise<void> {
  await nextTick()
  const at = document.activeElement
  const types = at instanceof HTMLElement && ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName) && at.isConnected
  if (!types) card.value?.querySelector<HTMLElement>('[autofocus]:not(:disabled)')?.focus()
}
watch(() => [props.stage, job.assessment.value?.entries.length, job.busy.value], lead, { flush: 'post' })
onMounted(lead)
</script>

<template>
  <div class="frame">
    <div ref="card" class="card stack">
      <NextLine :stage="stage" :plain="plain" />
      <slot />
      <MessageLookup
        v-if="job.assessment.value?.sheet.profile && !job.frozen.value"
        :job="job.id"
        :profile="job.assessment.value.sheet.profile.id"
        class="lookup"
      />
    </div>
    <aside class="side stack"><slot name="side" /></aside>
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  grid-template-columns: minmax(0, 1.55fr) minmax(20rem, 1fr);
  flex: 1;
  min-height: 0;
}
.card {
  padding: 0.8rem 1.5rem 0.8rem 1.25rem;
  gap: 0.7rem;
  overflow: auto;
  min-height: 0;
}
/* Nothing but the list of readings gives way; the card scrolls if it must. What lies deeper shrinks as it likes:
   a sentence in a row wraps. */
.card > :slotted(*:not(.box)),
.side > :slotted(*) {
  flex-shrink: 0;
}
.side {
  overflow: auto;
  min-height: 0;
  padding: 1rem 1.25rem;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
}
.lookup {
  align-self: flex-start;
}
@media (max-width: 56rem) {
  .frame {
    grid-template-columns: 1fr;
    grid-template-rows: none;
  }
  .side {
    border-left: none;
    border-top: 1px solid var(--rule);
  }
}
</style>
