<script setup lang="ts">
import Button from 'primevue/button'
import { computed, watch } from 'vue'
import type { KeyPhase, KeyingSheet } from '../../api/types'
import { useTyped } from '../../state/typed'
import KeyMoves from '../../keying/KeyMoves.vue'

// One step large, Enter for the next; where it stands survives a reload.
const props = defineProps<{ sheet: KeyingSheet; phases: KeyPhase[]; store: string }>()
const emit = defineEmits<{ done: [] }>()
const at = useTyped(
  () => props.store,
  () => '0',
)
const steps = computed(() => props.sheet.steps.filter((s) => props.phases.includes(s.phase)))
const index = computed(() => Math.min(Number(at.value) || 0, Math.max(0, steps.value.length - 1)))
const step = computed(() => steps.value[index.value])
const last = computed(() => index.value >= steps.value.length - 1)
watch(
  () => steps.value.length,
  (now, before) => {
    if (now !== before) at.value = '0'
  },
)

function next(): void {
  if (last.value) emit('done')
  else at.value = String(index.value + 1)
}
function back(): void {
  at.value = String(Math.max(0, index.value - 1))
}
</script>

<template>
  <form v-if="step" class="strip" data-testid="key-strip" @submit.prevent="next">
    <p class="row">
      <span class="quiet figure" data-testid="key-at">{{
        $t('key-strip-what-of-count', { what: index + 1, count: steps.length })
      }}</span><strong class="title">{{ step.title }}</strong>
    </p>
    <p v-if="step.platform" class="platform">
      <strong>{{ $t('key-strip-on-the-platform') }}</strong> {{ step.platform }}
    </p>
    <KeyMoves :step="step" large aria-live="polite" />
    <p v-for="caution in step.cautions" :key="String(caution)" class="note note-caution small">{{ caution }}</p>
    <div class="row">
      <Button type="submit" class="btn-next" autofocus>{{
        last ? $t('pieces-on-done') : $t('key-strip-next-step')
      }}</Button>
      <Button v-if="index > 0" type="button" @click="back">{{ $t('key-strip-back') }}</Button>
      <slot />
      <span class="push small quiet figure">{{ $t('key-strip-presses-presses', { presses: step.presses }) }}</span>
    </div>
  </form>
</template>

<style scoped>
.strip {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
  border-top: 2px solid var(--ink);
  padding-top: 0.7rem;
}
.title {
  font-size: 1.3rem;
}
.platform {
  font-size: 1.05rem;
}
</style>
