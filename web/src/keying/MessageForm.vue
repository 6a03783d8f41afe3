<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Message } from '../api/types'
import type { Tried } from '../state/tried'
import TextField from '../ui/TextField.vue'

// What the display says and what that means, added where it was met.
const props = defineProps<{ shown: string; sending: Tried }>()
const emit = defineEmits<{ said: [message: Message] }>()
const { data: words } = useVocabulary()
const text = ref(props.shown)
const meaning = ref<Message['meaning'] | ''>('')
const says = ref('')
const then = ref('')
watch(
  () => props.shown,
  (now) => (text.value = now),
)
// What belongs to a meaning is for the rules to say.
const ready = computed(() => text.value.trim() && meaning.value)
function enter(): void {
  if (!meaning.value) return
  emit('said', {
    text: text.value.trim(),
    meaning: meaning.value,
    says: says.value.trim() || null,
    then: then.value.trim() || null,
  })
}
</script>

<template>
  <form class="stack tight" data-testid="message-form" @submit.prevent="enter">
    <TextField
      id="message-text"
      v-model="text"
      :label="$t('message-form-it-shows')"
      :wrong="sending.wrong('text')"
      figure
    />
    <div class="field">
      <label for="message-meaning">{{ $t('message-form-that-means') }}</label>
      <select id="message-meaning" v-model="meaning" class="input">
        <option v-for="m in words?.messages ?? []" :key="m.value" :value="m.value">{{ m.label }}</option>
      </select>
    </div>
    <TextField
      id="message-says"
      v-model="says"
      :label="meaning === 'other' ? $t('message-form-in-words') : $t('message-form-in-own-words')"
      :wrong="sending.wrong('says')"
    />
    <TextField id="message-then" v-model="then" :label="$t('message-form-what-to-do')" :wrong="sending.wrong('then')" />
    <Button type="submit" class="btn-next start" :disabled="sending.busy.value || !ready">{{
      $t('message-form-enter')
    }}</Button>
  </form>
</template>

<style scoped>
.start {
  align-self: flex-start;
}
</style>
