<script setup lang="ts">
import { useVocabulary } from '../api/scales'
import type { Message, Profile } from '../api/types'

// What the display may say, what that means and what to do.
const form = defineModel<Profile>({ required: true })
defineProps<{ wrong: (at: string) => string }>()
const { data: words } = useVocabulary()
const add = () => {
  form.value.message = [...(form.value.message ?? []), { text: '', meaning: 'working', says: null, then: null }]
}
const drop = (at: number) => {
  form.value.message = (form.value.message ?? []).filter((_, i) => i !== at)
}
const set = (m: Message, field: 'says' | 'then', event: Event) => {
  m[field] = (event.target as HTMLInputElement).value.trim() || null
}
</script>

<template>
  <section class="stack tight">
    <h2>{{ $t('profile-messages-messages') }}</h2>
    <div v-for="(m, at) in form.message ?? []" :key="at" class="message" :data-message="at">
      <div class="row tight">
        <input
          v-model="m.text"
          class="input figure short"
          :aria-label="$t('message-form-it-shows')"
          :aria-invalid="Boolean(wrong(`message.${at}.text`))"
        />
        <select v-model="m.meaning" class="input grow" :aria-label="$t('message-form-that-means')">
          <option v-for="w in words?.messages ?? []" :key="w.value" :value="w.value">{{ w.label }}</option>
        </select>
        <button type="button" class="btn btn-bare" :aria-label="$t('common-remove')" @click="drop(at)">×</button>
      </div>
      <div v-if="m.meaning === 'other' || m.says || m.then" class="row tight">
        <input
          class="input grow"
          :value="m.says ?? ''"
          :placeholder="$t('message-form-in-words')"
          :aria-label="$t('message-form-in-words')"
          :aria-invalid="Boolean(wrong(`message.${at}.says`))"
          @input="set(m, 'says', $event)"
        />
        <input
          class="input grow"
          :value="m.then ?? ''"
          :placeholder="$t('message-form-what-to-do')"
          :aria-label="$t('message-form-what-to-do')"
          @input="set(m, 'then', $event)"
        />
      </div>
      <p v-for="f in ['text', 'says']" v-show="wrong(`message.${at}.${f}`)" :key="f" class="wrong" role="alert">
        {{ wrong(`message.${at}.${f}`) }}
      </p>
    </div>
    <button type="button" class="btn start" @click="add">{{ $t('profile-messages-add') }}</button>
  </section>
</template>

<style scoped>
.message {
  border-top: 1px solid var(--rule-2);
  padding: 0.3rem 0;
}
.short {
  width: 9rem;
}
.grow {
  flex: 1;
  min-width: 9rem;
}
.start {
  align-self: flex-start;
}
</style>
