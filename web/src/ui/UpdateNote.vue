<script setup lang="ts">
import { useRegisterSW } from 'virtual:pwa-register/vue'

// A newer program is ready. It is offered between jobs and never forced: whoever is in the middle of one stays with
// what they have.
const { needRefresh, updateServiceWorker } = useRegisterSW()
</script>

<template>
  <p v-if="needRefresh" class="note row no-print" role="status">
    {{ $t('update-note-a-newer-version-is-ready') }}
    <button type="button" class="btn" @click="updateServiceWorker()">{{ $t('update-note-use-it') }}</button>
    <button type="button" class="btn btn-bare" @click="needRefresh = false">{{ $t('update-note-later') }}</button>
  </p>
</template>
