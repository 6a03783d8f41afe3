<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, reactive, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import type { Failure } from '../api/client'
import { answerLink, askLink } from '../api/people'
import { useVocabulary } from '../api/scales'
import { signIn, signOut } from '../api/session'
import type { Language, LinkReply, Scheme, Unit } from '../api/types'
import NewPassword from '../ui/NewPassword.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { roleWord } from '../ui/format'

// A link that works once: the first start of the program, an invitation, or a new password.
const props = defineProps<{ token: string }>()
const router = useRouter()
const link = ref<LinkReply | null>(null)
const gone = ref<Failure | null>(null)
const asked = useTried()
const { failure, busy, tried, wrong, general } = useTried()
const form = reactive({
  workshop: '',
  lines: '',
  language: 'en' as Language,
  country: '',
  review: false,
  unit: 'kg' as Unit,
  scheme: 'r76_in_service' as Scheme,
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone ?? '',
  name: '',
  sign_in: '',
  password: '',
})
const { data: words } = useVocabulary()
const schemes = computed(() => words.value?.schemes.filter((s) => s.value !== 'table' && s.value !== 'house') ?? [])
const first = computed(() => link.value?.kind === 'first_start')
const fresh = computed(() => link.value?.kind !== 'password')
const secret = useTemplateRef('secret')
onMounted(async () => {
  await asked.tried(async () => {
    link.value = await askLink(props.token)
    form.name = link.value.name
  })
  gone.value = asked.failure.value
})

async function submit(): Promise<void> {
  if (!secret.value?.same()) return
  const done = await tried(async () => {
    // Whoever is signed in at this browser is not who the link is for.
    if (session.person.value) await signOut()
    await answerLink(props.token, {
      name: form.name,
      sign_in: form.sign_in,
      password: form.password,
      workshop: first.value
        ? {
            name: form.workshop,
            lines: form.lines.split('\n').filter((l) => l.trim()),
            language: form.language,
            country: form.country,
            review: form.review,
            unit: form.unit,
            scheme: form.scheme,
            time_zone: form.time_zone,
          }
        : null,
    })
  })
  if (!done) return
  if (!fresh.value) return void router.replace({ name: 'sign-in' })
  await tried(async () => {
    await signIn(form.sign_in, form.password)
    await router.replace({ name: 'home' })
  })
}
</script>

<template>
  <main id="main" class="welcome stack">
    <p class="small quiet">{{ $t('common-ombret') }}</p>
    <template v-if="link">
      <h1 v-if="first">{{ $t('welcome-set-up-the-workshop') }}</h1>
      <h1 v-else-if="fresh">{{ $t('welcome-workshop-invites-you', { workshop: link.workshop }) }}</h1>
      <h1 v-else>{{ $t('welcome-a-new-password-for-name', { name: link.name }) }}</h1>
      <p v-if="first" class="quiet">
        {{ $t('welcome-you-are-the-first-person') }}
      </p>
      <p v-else-if="fresh" class="quiet">
        {{ $t('welcome-as-what', { what: link.roles.map(roleWord).join(' and ') }) }}
      </p>
      <form class="form" novalidate @submit.prevent="submit">
        <template v-if="first">
          <TextField
            id="workshop"
            v-model="form.workshop"
            :label="$t('welcome-name-of-the-workshop')"
            :wrong="wrong('workshop')"
            autofocus
          />
          <div class="field">
            <label for="lines">{{ $t('welcome-address-telephone-accreditation-they-stand') }}</label><textarea
              id="lines"
              v-model="form.lines"
              class="input"
              rows="3"
            ></textarea>
            <p v-if="wrong('lines')" class="wrong" role="alert">{{ wrong('lines') }}</p>
          </div>
          <div class="row end">
            <div class="field">
              <label for="language">{{ $t('welcome-language-of-its-papers') }}</label><select
                id="language"
                v-model="form.language"
                class="input"
              >
                <option v-for="l in words?.languages ?? []" :key="l.language" :value="l.language">{{ l.name }}</option>
              </select>
            </div>
            <TextField
              id="country"
              v-model="form.country"
              :label="$t('letterhead-country-two-letters')"
              :wrong="wrong('country')"
            />
            <div class="field">
              <label for="unit">{{ $t('common-unit') }}</label><select id="unit" v-model="form.unit" class="input">
                <option v-for="u in words?.units ?? []" :key="u" :value="u">{{ u }}</option>
              </select>
            </div>
            <div class="field">
              <label for="scheme">{{ $t('welcome-tolerance-book') }}</label><select
                id="scheme"
                v-model="form.scheme"
                class="input"
              >
                <option v-for="s in schemes" :key="s.value" :value="s.value">{{ s.label }}</option>
              </select>
            </div>
            <TextField
              id="time_zone"
              v-model="form.time_zone"
              :label="$t('welcome-time-zone')"
              :wrong="wrong('time_zone')"
            />
          </div>
          <label class="check"
            ><input v-model="form.review" type="checkbox" name="review" />
            {{ $t('letterhead-a-reviewer-approves-each-record') }}</label
          >
        </template>
        <template v-if="fresh">
          <TextField
            id="name"
            v-model="form.name"
            :label="$t('welcome-your-name-as-it-stands')"
            :wrong="wrong('name')"
            autocomplete="name"
          />
          <TextField
            id="sign_in"
            v-model="form.sign_in"
            :label="$t('welcome-name-to-sign-in-with')"
            :wrong="wrong('sign_in')"
            autocomplete="username"
          />
        </template>
        <NewPassword
          id="password"
          ref="secret"
          v-model="form.password"
          :label="$t('common-password')"
          :wrong="wrong('password')"
        />
        <RefusalNote :failure="general(['workshop', 'lines', 'country', 'time_zone', 'name', 'sign_in', 'password'])" />
        <div class="row">
          <Button type="submit" class="btn-next" :disabled="busy">{{
            first ? $t('welcome-set-up-the-workshop') : fresh ? $t('welcome-join') : $t('welcome-set-the-password')
          }}</Button>
        </div>
      </form>
    </template>
    <template v-else-if="gone">
      <h1>{{ $t('welcome-this-link-does-not-work') }}</h1>
      <p>
        {{ $t('welcome-it-works-once-and-for') }}
      </p>
      <RefusalNote v-if="gone.status !== 404" :failure="gone" />
    </template>
    <p v-else class="quiet" role="status">{{ $t('check-looking-it-up') }}</p>
    <RefusalNote v-if="failure && !link" :failure="failure" />
  </main>
</template>

<style scoped>
.welcome {
  padding: 2rem 1.25rem;
  max-width: 46rem;
  margin: 0 auto;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 1rem;
}
textarea {
  min-height: 4rem;
  padding: 0.5rem;
}
</style>
