<script setup lang="ts">
// The switch of a run that takes every load by itself.
const armed = defineModel<boolean>({ required: true })
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
