<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { api, settled } from '../api/client'
import type { Person } from '../api/types'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import TextField from '../ui/TextField.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import { home } from './home'
import { vault } from './vault'

// What is taken along lies under a lock that the password of whoever takes it opens, with or without a network.
const person = computed(() => session.person.value)
const known = computed(() => vault.locks.value.some((l) => l.person.id === person.value?.id))
const name = ref('')
const password = ref('')
const wrongPassword = ref(false)
const { failure, busy, tried, wrong } = useTried()

async function makeLock(): Promise<void> {
  const who = JSON.parse(JSON.stringify(person.value)) as Person
  const made = await vault.make(who, name.value, password.value)
  const { device: id, publicKey: public_key } = made.lock
  const body = { id, name: name.value, public_key, password: password.value }
  await settled(api.POST('/api/offline/devices', { body }))
  await vault.settle(who, made)
}
async function submit(): Promise<void> {
  wrongPassword.value = false
  const done = await tried(async () => {
    if (!known.value) return makeLock()
    wrongPassword.value = !(await vault.unlock(password.value, person.value?.id))
  })
  if (!done || wrongPassword.value) return
  password.value = ''
  void home.bringAll()
}
async function forget(): Promise<void> {
  if (person.value) await vault.forget(person.value.id)
}
</script>

<template>
  <form class="stack tight" @submit.prevent="submit">
    <p>{{ known ? $t('device-lock-locked') : $t('device-lock-what-it-does') }}</p>
    <TextField
      v-if="!known"
      id="device-name"
      v-model="name"
      :label="$t('device-lock-name-of-this-device')"
      :wrong="wrong('name')"
    />
    <div class="field">
      <label for="device-password">{{ $t('device-lock-your-password') }}</label>
      <input
        id="device-password"
        v-model="password"
        class="input"
        type="password"
        autocomplete="current-password"
        required
        :aria-invalid="wrongPassword || Boolean(wrong('password'))"
      />
      <p v-if="wrongPassword" class="wrong" role="alert">{{ $t('device-lock-this-does-not-open-it') }}</p>
      <p v-else-if="wrong('password')" class="wrong" role="alert">{{ wrong('password') }}</p>
    </div>
    <RefusalNote :failure="failure && !wrong('password') && !wrong('name') ? failure : null" />
    <div class="row">
      <Button type="submit" class="btn-next" :disabled="busy">{{
        known ? $t('device-lock-unlock') : $t('device-lock-set-up')
      }}</Button>
      <details v-if="known">
        <summary>{{ $t('device-lock-the-password-was-changed') }}</summary>
        <p class="note note-caution">{{ $t('device-lock-forget-says') }}</p>
        <button type="button" class="btn" @click="forget">{{ $t('device-lock-forget') }}</button>
      </details>
    </div>
  </form>
</template>
