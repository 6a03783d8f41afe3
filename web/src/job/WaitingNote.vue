<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import { useJob } from './useJob'

const job = useJob()
const text = computed(() => {
  if (!job.waiting.value) return ''
  const why = job.trouble.value
  if (why?.status === 401) return say('waiting-note-signed-out-your-last-entry')
  if (why?.status === 503) return say('waiting-note-the-database-is-away-your')
  return say('waiting-note-no-answer-from-the-server')
})
</script>

<template>
  <p v-if="text" class="note note-caution" role="alert" data-testid="waiting">{{ text }}</p>
  <p v-else-if="job.trouble.value" class="note note-wrong" role="alert">
    {{ $t('waiting-note-the-entry-that-was-waiting', { message: job.trouble.value.message }) }}
  </p>
  <p v-else-if="job.notice.value" class="note" role="status">{{ job.notice.value }}</p>
</template>
