<script setup lang="ts">
import Button from 'primevue/button'
import { reactive, ref } from 'vue'
import { endToken, makeToken, useTokens } from '../api/factors'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { dayText, momentText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'
import { vCards } from '../ui/cards'

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
    <h2 id="tokens">{{ $t('program-tokens-api-tokens') }}</h2>
    <p class="quiet small">
      {{ $t('program-tokens-a-program-of-yours-that') }}
    </p>
    <table v-if="data?.length" v-cards>
      <tbody>
        <tr v-for="t in data" :key="t.id">
          <td>{{ t.name }}</td>
          <td>{{ t.works ? $t('program-tokens-works-on-scales') : $t('program-tokens-reads') }}</td>
          <td class="small">{{ $t('program-tokens-until-expires-at', { expires_at: dayText(t.expires_at) }) }}</td>
          <td class="small">
            {{
              t.used_at
                ? $t('owner-links-used-used-at', { used_at: momentText(t.used_at) })
                : $t('owner-links-not-used-yet')
            }}
          </td>
          <td>
            <Button type="button" @click="ending.tried(() => endToken(t.id))">{{ $t('owner-links-delete') }}</Button>
          </td>
        </tr>
      </tbody>
    </table>
    <RefusalNote :failure="ending.failure.value" />
    <p v-if="made" class="note" role="status" data-testid="token">
      {{ $t('program-tokens-it-is-shown-this-once') }} <span class="figure">Authorization: Bearer …</span>:
      <span class="figure secret">{{ made }}</span>
    </p>
    <form class="stack tight" @submit.prevent="make">
      <TextField
        id="token-name"
        v-model="form.name"
        :label="$t('program-tokens-a-new-one-what-it')"
        :wrong="making.wrong('name')"
      />
      <label v-if="session.has('technician')" class="check"
        ><input v-model="form.works" type="checkbox" name="token-works" />
        {{ $t('program-tokens-it-works-on-scales-else') }}</label
      >
      <TextField
        id="token-days"
        v-model="form.days"
        :label="$t('program-tokens-days-until-it-ends-400')"
        figure
        :wrong="making.wrong('days')"
      />
      <TextField
        id="token-password"
        v-model="form.password"
        :label="$t('program-tokens-your-password')"
        type="password"
        autocomplete="current-password"
        :wrong="making.wrong('password')"
      />
      <div class="row">
        <Button type="submit">{{ $t('program-tokens-make-a-token') }}</Button>
      </div>
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
