<script setup lang="ts">
import { say } from '../words'
import { ref } from 'vue'
import TextField from './TextField.vue'

// A new password, typed twice; `same` says at its field where the two differ.
const password = defineModel<string>({ required: true })
defineProps<{ id: string; label: string; wrong?: string }>()
const again = ref('')
const unlike = ref('')

defineExpose({
  same(): boolean {
    unlike.value = password.value === again.value ? '' : say('new-password-the-two-passwords-are-not')
    return !unlike.value
  },
  clear(): void {
    password.value = again.value = ''
  },
})
</script>

<template>
  <TextField
    :id="id"
    v-model="password"
    :label="$t('new-password-label-12-characters-or-more', { label })"
    type="password"
    :wrong="wrong"
    autocomplete="new-password"
  />
  <TextField
    :id="`${id}-again`"
    v-model="again"
    :label="$t('new-password-the-same-password-again')"
    type="password"
    :wrong="unlike"
    autocomplete="new-password"
  />
</template>
