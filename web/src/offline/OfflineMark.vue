<script setup lang="ts">
import { connection } from './connection'
import { held } from './held'
import { home } from './home'

// Whether the server answers, and how much of this device's work it does not have: on every page.
</script>

<template>
  <RouterLink
    v-if="held.unsent.value || !connection.answers.value || home.unwelcome.value"
    class="btn btn-bare mark"
    :to="{ name: 'along' }"
    data-testid="offline-mark"
  >
    <span v-if="!connection.answers.value">{{ $t('offline-mark-no-server') }}</span>
    <span v-if="held.unsent.value" class="figure">{{
      home.bringing.value ? $t('offline-mark-sending') : $t('offline-mark-no-not-sent', { no: held.unsent.value })
    }}</span>
  </RouterLink>
</template>

<style scoped>
.mark {
  display: flex;
  gap: 0.5rem;
  color: var(--caution);
  font-weight: 700;
}
</style>
