<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { importFile } from '../api/jobs'

const router = useRouter()
const input = ref<HTMLInputElement | null>(null)
const wrong = ref('')

async function chosen(): Promise<void> {
  const file = input.value?.files?.[0]
  if (!file) return
  wrong.value = ''
  try {
    const { job } = await importFile(file)
    await router.push({ name: 'record', params: { job } })
  } catch (error) {
    wrong.value = error instanceof Error ? error.message : String(error)
  } finally {
    if (input.value) input.value.value = ''
  }
}
</script>

<template>
  <span class="import">
    <input
      ref="input"
      type="file"
      accept=".json,application/json"
      class="sr-only"
      :aria-label="$t('import-button-job-file-to-take-in')"
      tabindex="-1"
      @change="chosen"
    />
    <button type="button" class="btn" @click="input?.click()">{{ $t('import-button-take-in-a-job-file') }}</button>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.import {
  display: inline-flex;
  gap: 0.8rem;
  align-items: center;
  max-width: 40rem;
}
</style>
