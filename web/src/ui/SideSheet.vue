<script setup lang="ts">
import { nextTick, ref, useId, watch } from 'vue'

// What stands beside the work on a wide screen; on a phone a button that draws it up from below.
defineProps<{ title: string }>()
const open = defineModel<boolean>('open', { default: false })
const id = useId()
const closer = ref<HTMLElement | null>(null)
const opener = ref<HTMLElement | null>(null)
watch(open, async (now) => {
  await nextTick()
  const to = now ? closer.value : opener.value
  if (to?.offsetParent) to.focus()
})
</script>

<template>
  <div class="side-sheet" :class="{ open }" @keydown.esc="open = false">
    <button
      ref="opener"
      type="button"
      class="btn opener"
      :aria-expanded="open"
      :aria-controls="id"
      @click="open = true"
    >
      {{ title }}
    </button>
    <div :id="id" class="drawn stack tight">
      <div class="row head">
        <strong>{{ title }}</strong>
        <button ref="closer" type="button" class="btn push" @click="open = false">{{ $t('common-close') }}</button>
      </div>
      <slot />
    </div>
  </div>
</template>

<style scoped>
.opener,
.head {
  display: none;
}
@media screen and (max-width: 40rem) {
  .opener {
    display: flex;
    width: 100%;
  }
  .drawn {
    display: none;
  }
  .open > .drawn {
    display: flex;
    position: fixed;
    inset: auto 0 0;
    z-index: 8;
    max-height: 88vh;
    overflow: auto;
    background: var(--sheet);
    border-top: 6px solid var(--ink);
    padding: 0.5rem 1rem calc(1rem + env(safe-area-inset-bottom));
  }
  .drawn > :deep(*) {
    flex-shrink: 0;
  }
  .open .head {
    display: flex;
    position: sticky;
    top: -0.5rem;
    background: var(--sheet);
    padding: 0.3rem 0;
    z-index: 1;
  }
}
</style>
