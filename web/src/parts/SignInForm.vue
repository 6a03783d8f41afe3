<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { Failure } from '../api/client'
import { signIn } from '../api/session'

const emit = defineEmits<{ done: [] }>()
const name = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)

async function submit(): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    await signIn(name.value, password.value)
    emit('done')
  } catch (error) {
    wrong.value = error instanceof Failure ? error.message : String(error)
    password.value = ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="stack" @submit.prevent="submit">
    <div class="field">
      <label for="sign-in-name">Name</label>
      <InputText id="sign-in-name" v-model="name" autocomplete="username" autofocus required />
    </div>
    <div class="field">
      <label for="sign-in-password">Password</label>
      <InputText id="sign-in-password" v-model="password" type="password" autocomplete="current-password" required />
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <Button class="btn-next" type="submit" :disabled="busy">Sign in</Button>
  </form>
</template>
