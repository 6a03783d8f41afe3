<script setup lang="ts">
import { onBeforeUnmount, watch } from 'vue'

// The switch of a run that takes every load by itself. While it is armed hands are on the weights: the screen stays
// awake.
const armed = defineModel<boolean>({ required: true })
let awake: WakeLockSentinel | null = null
async function keepAwake(now: boolean): Promise<void> {
  await awake?.release().catch(() => undefined)
  awake = now ? ((await navigator.wakeLock?.request('screen').catch(() => null)) ?? null) : null
}
watch(armed, (now) => void keepAwake(now), { immediate: true })
onBeforeUnmount(() => void keepAwake(false))
defineProps<{ near: boolean; load: string; unit: string }>()
</script>

<template>
  <label class="named" data-testid="armed"
    ><input v-model="armed" type="checkbox" /><span
      >{{
        armed
          ? near
            ? $t('armed-run-takes-it-when-steady')
            : $t('armed-run-waits-for-load', { load: load ? `${load} ${unit}` : $t('armed-run-a-load') })
          : $t('armed-run-take-every-load-of-the')
      }}
      <span class="quiet">(<span class="figure">+</span>)</span></span
    ></label
  >
</template>

<style scoped>
.named {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  min-height: var(--target);
}
.named input {
  width: 1.2rem;
  height: 1.2rem;
  accent-color: var(--ink);
  flex: none;
}
</style>
