<script setup lang="ts">
import { computed } from 'vue'
import { useJob } from './useJob'

const job = useJob()
const text = computed(() => {
  if (!job.waiting.value) return ''
  const why = job.trouble.value
  if (why?.status === 401) return 'Signed out: your last entry is kept here and sent as soon as you have signed in.'
  if (why?.status === 503)
    return 'The database is away. Your last entry is not stored yet; it is kept here and sent when the database is back.'
  return 'No answer from the server. Your last entry is not stored yet; it is kept here and sent again.'
})
</script>

<template>
  <p v-if="text" class="note note-caution" role="alert" data-testid="waiting">{{ text }}</p>
  <p v-else-if="job.trouble.value" class="note note-wrong" role="alert">
    The entry that was waiting was refused: {{ job.trouble.value.message }}
  </p>
  <p v-else-if="job.notice.value" class="note" role="status">{{ job.notice.value }}</p>
</template>
