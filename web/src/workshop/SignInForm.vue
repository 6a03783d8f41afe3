<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { nextTick, ref } from 'vue'
import { Failure } from '../api/client'
import { signIn } from '../api/session'
import { vault } from '../offline/vault'
import { say } from '../words'

const emit = defineEmits<{ done: [] }>()
const name = ref('')
const password = ref('')
const code = ref('')
// The password was right, and a second factor is asked for.
const asked = ref(false)
const wrong = ref('')
const busy = ref(false)

const told = (failure: Failure): string =>
  failure.status === 0 && vault.locks.value.length ? say('sign-in-form-the-server-does-not') : failure.message

async function submit(): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    await signIn(name.value, password.value, code.value)
    emit('done')
  } catch (error) {
    code.value = ''
    if (error instanceof Failure && error.code === 'code_needed') {
      asked.value = true
      await nextTick()
      document.getElementById('sign-in-code')?.focus()
      return
    }
    wrong.value = error instanceof Failure ? told(error) : String(error)
    if (error instanceof Failure && error.code === 'wrong_code') return
    password.value = ''
    asked.value = false
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="stack" @submit.prevent="submit">
    <div class="field">
      <label for="sign-in-name">{{ $t('common-name') }}</label>
      <InputText id="sign-in-name" v-model="name" autocomplete="username" autofocus required />
    </div>
    <div class="field">
      <label for="sign-in-password">{{ $t('common-password') }}</label>
      <InputText id="sign-in-password" v-model="password" type="password" autocomplete="current-password" required />
    </div>
    <div v-if="asked" class="field">
      <label for="sign-in-code">{{ $t('sign-in-form-the-code-that-your-authenticator') }}</label>
      <InputText id="sign-in-code" v-model="code" class="figure" autocomplete="one-time-code" required />
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <Button class="btn-next" type="submit" :disabled="busy">{{ $t('router-sign-in') }}</Button>
  </form>
</template>
