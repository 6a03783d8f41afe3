<script setup lang="ts">
import Button from 'primevue/button'
import { reactive, ref } from 'vue'
import { endToken, makeToken, useTokens } from '../api/factors'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { dayText, momentText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

// Tokens for programs of one's own: what each may do, shown once, when it was used last.
const { data } = useTokens()
const form = reactive({ name: '', works: false, days: '90', password: '' })
const made = ref('')
const making = useTried()
const ending = useTried()
async function make(): Promise<void> {
  made.value = ''
  await making.tried(async () => {
    made.value = await makeToken({
      name: form.name,
      works: form.works,
      days: Number.parseInt(form.days, 10) || 0,
      password: form.password,
    })
    Object.assign(form, { name: '', works: false, password: '' })
  })
}
</script>

<template>
  <section class="stack tight tokens" aria-labelledby="tokens">
    <h2 id="tokens">API tokens</h2>
    <p class="quiet small">
      A program of yours that reads figures or takes in tables signs in with a token. It never approves, manages or
      signs.
    </p>
    <table v-if="data?.length">
      <tbody>
        <tr v-for="t in data" :key="t.id">
          <td>{{ t.name }}</td>
          <td>{{ t.works ? 'works on scales' : 'reads' }}</td>
          <td class="small">until {{ dayText(t.expires_at) }}</td>
          <td class="small">{{ t.used_at ? `used ${momentText(t.used_at)}` : 'not used yet' }}</td>
          <td><Button type="button" @click="ending.tried(() => endToken(t.id))">Delete</Button></td>
        </tr>
      </tbody>
    </table>
    <RefusalNote :failure="ending.failure.value" />
    <p v-if="made" class="note" role="status" data-testid="token">
      It is shown this once; send it as <span class="figure">Authorization: Bearer …</span>:
      <span class="figure secret">{{ made }}</span>
    </p>
    <form class="stack tight" @submit.prevent="make">
      <TextField id="token-name" v-model="form.name" label="A new one: what it is for" :wrong="making.wrong('name')" />
      <label v-if="session.has('technician')" class="check"
        ><input v-model="form.works" type="checkbox" name="token-works" /> it works on scales; else it only reads</label
      >
      <TextField
        id="token-days"
        v-model="form.days"
        label="Days until it ends, 400 at most"
        figure
        :wrong="making.wrong('days')"
      />
      <TextField
        id="token-password"
        v-model="form.password"
        label="Your password"
        type="password"
        autocomplete="current-password"
        :wrong="making.wrong('password')"
      />
      <div class="row"><Button type="submit">Make a token</Button></div>
    </form>
    <RefusalNote :failure="making.general(['name', 'days', 'password'])" />
  </section>
</template>

<style scoped>
.tokens {
  max-width: 48rem;
  margin-bottom: 1.5rem;
}
form {
  max-width: 30rem;
}
.secret {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
