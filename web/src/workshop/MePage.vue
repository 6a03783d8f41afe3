<script setup lang="ts">
import Button from 'primevue/button'
import { ref, useTemplateRef } from 'vue'
import { changePassword, rename } from '../api/people'
import NewPassword from '../ui/NewPassword.vue'
import ProgramTokens from './ProgramTokens.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import SecondFactor from './SecondFactor.vue'
import SessionList from './SessionList.vue'
import TextField from '../ui/TextField.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { roleWord } from '../ui/format'

// One's own name, password and sessions.
const name = ref(session.person.value?.name ?? '')
const named = ref(false)
const naming = useTried()
async function saveName(): Promise<void> {
  named.value = await naming.tried(() => rename(name.value))
}
const old = ref('')
const password = ref('')
const secret = useTemplateRef('secret')
const changed = ref(false)
const changing = useTried()
async function savePassword(): Promise<void> {
  changed.value = false
  if (!secret.value?.same()) return
  changed.value = await changing.tried(() => changePassword(old.value, password.value))
  if (!changed.value) return
  old.value = ''
  secret.value.clear()
}
</script>

<template>
  <main id="main" class="account stack">
    <h1>{{ $t('common-your-account') }}</h1>
    <p class="quiet">
      {{ session.person.value?.workshop }}, {{ session.person.value?.roles.map(roleWord).join(', ') }}
    </p>
    <form class="form" @submit.prevent="saveName">
      <TextField
        id="my-name"
        v-model="name"
        :label="$t('me-your-name-as-it-stands')"
        :wrong="naming.wrong('name')"
        autocomplete="name"
      />
      <RefusalNote :failure="naming.general(['name'])" />
      <div class="row">
        <Button type="submit">{{ $t('me-save-name') }}</Button><span v-if="named" role="status">{{
          $t('common-saved')
        }}</span>
      </div>
    </form>
    <form class="form" @submit.prevent="savePassword">
      <h2>{{ $t('common-password') }}</h2>
      <TextField
        id="old-password"
        v-model="old"
        :label="$t('me-password-now')"
        type="password"
        :wrong="changing.wrong('old')"
        autocomplete="current-password"
      />
      <NewPassword
        id="new-password"
        ref="secret"
        v-model="password"
        :label="$t('me-new-password')"
        :wrong="changing.wrong('password')"
      />
      <RefusalNote :failure="changing.general(['old', 'password'])" />
      <div class="row">
        <Button type="submit">{{ $t('me-change-password') }}</Button><span v-if="changed" role="status">{{
          $t('me-changed-your-other-sessions-have')
        }}</span>
      </div>
    </form>
    <SecondFactor />
    <ProgramTokens />
    <SessionList :all="false" />
  </main>
</template>

<style scoped>
.account {
  padding: 1rem 1.25rem 2rem;
  max-width: 60rem;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
  max-width: 30rem;
  margin-bottom: 1.5rem;
}
</style>
