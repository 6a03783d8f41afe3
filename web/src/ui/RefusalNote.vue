<script setup lang="ts">
import type { Failure } from '../api/client'

// A refusal says what is wrong, what to do, and loses nothing.
defineProps<{ failure: Failure | null }>()
</script>

<template>
  <div v-if="failure" class="note note-wrong" role="alert">
    <p>
      <strong>{{ failure.problem?.title ?? $t('refusal-note-no-answer') }}:</strong> {{ failure.message }}
    </p>
    <p v-if="failure.problem?.what_to_do">{{ failure.problem.what_to_do }}</p>
  </div>
</template>
