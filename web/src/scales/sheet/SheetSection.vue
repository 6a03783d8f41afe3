<script setup lang="ts">
defineProps<{ legend: string }>()
</script>

<template>
  <fieldset>
    <legend>{{ legend }}</legend>
    <slot></slot>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: none;
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 0.4rem 0 0.6rem;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.5rem 1.25rem;
  align-items: end;
}
legend {
  font-weight: 650;
  padding-right: 1rem;
}
fieldset :slotted(.wide) {
  grid-column: 1 / -1;
}
</style>
