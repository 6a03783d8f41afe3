<script setup lang="ts">
import { ref } from 'vue'
import type { Message } from '../api/types'
import MessageForm from '../keying/MessageForm.vue'
import { useTeaching } from './useTeaching'

// What comes up while one teaches: a message of the display, or a key that was forgotten at first.
const { view, tell, addKey, sending } = useTeaching()
const open = ref<'message' | 'key' | null>(null)
const cap = ref('')
const shown = () => view.value?.learnt.stands?.display ?? ''

async function say(message: Message): Promise<void> {
  await tell({ about: 'message', message })
  if (!sending.failure.value) open.value = null
}
async function add(): Promise<void> {
  await addKey(cap.value.trim())
  if (sending.failure.value) return
  cap.value = ''
  open.value = null
}
</script>

<template>
  <section class="stack tight">
    <div class="row tight">
      <button
        type="button"
        class="btn btn-bare"
        :aria-expanded="open === 'message'"
        data-testid="teach-message"
        @click="open = open === 'message' ? null : 'message'"
      >
        {{ $t('in-between-a-message') }}
      </button>
      <button
        type="button"
        class="btn btn-bare"
        :aria-expanded="open === 'key'"
        @click="open = open === 'key' ? null : 'key'"
      >
        {{ $t('in-between-another-key') }}
      </button>
    </div>
    <MessageForm v-if="open === 'message'" :shown="shown()" :sending="sending" @said="say" />
    <form v-if="open === 'key'" class="row" @submit.prevent="add">
      <div class="field">
        <label for="teach-key">{{ $t('front-picture-what-stands-on-it') }}</label>
        <input id="teach-key" v-model="cap" class="input figure" autocomplete="off" />
        <p v-if="sending.wrong('keys')" class="wrong" role="alert">{{ sending.wrong('keys') }}</p>
      </div>
      <button type="submit" class="btn" :disabled="sending.busy.value || !cap.trim()">{{ $t('common-enter') }}</button>
    </form>
  </section>
</template>
