<script setup lang="ts">
// A verdict is always a word with a mark of its own shape: a point at rest in the shade, a point
// standing out of it, or a shade without a point.
defineProps<{ verdict: 'within' | 'outside' | 'none'; word?: string }>()
</script>

<template>
  <span class="verdict" :class="verdict">
    <svg viewBox="0 0 24 18" width="24" height="18" aria-hidden="true">
      <path d="M1 6h22v10H1z" class="shade" />
      <circle v-if="verdict === 'within'" cx="12" cy="11" r="3.4" class="in" />
      <path v-else-if="verdict === 'outside'" d="M12 0l4.2 7.4H7.8z" class="out" />
      <path v-else d="M5 11h14" class="nothing" />
    </svg>
    <span>{{
      word ??
      { within: $t('verdict-mark-within'), outside: $t('verdict-mark-outside'), none: $t('verdict-mark-not-proved') }[
        verdict
      ]
    }}</span>
  </span>
</template>

<style scoped>
.verdict svg {
  align-self: center;
}
.verdict {
  display: inline-flex;
  align-items: last baseline;
  gap: 0.4rem;
  font-weight: 600;
  white-space: nowrap;
}
.within {
  color: var(--shade-ink);
}
.outside {
  color: var(--light-ink);
}
.none {
  color: var(--ink-2);
  font-weight: 500;
}
.shade {
  fill: var(--shade);
}
.in {
  fill: currentColor;
}
.out {
  fill: currentColor;
}
.nothing {
  stroke: currentColor;
  stroke-width: 1.6;
  stroke-dasharray: 3 2.5;
}
</style>
