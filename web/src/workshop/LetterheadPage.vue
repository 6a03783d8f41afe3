<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'
import { keepPaper, usePaper } from '../api/papers'
import type { Language } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'

// What stands on the workshop's certificates, reports and labels.
const { data } = usePaper()
const name = ref('')
const lines = ref('')
const closing = ref('')
const country = ref('')
const language = ref<Language>('en')
const review = ref(false)
const customerSigns = ref(false)
const { general, tried, wrong } = useTried()
const kept = ref(false)
const manages = computed(() => session.has('manager'))
const works = computed(() => session.has('technician') || manages.value)
watch(
  data,
  (now) => {
    if (!now) return
    const head = now.rules.letterhead
    name.value = head.name ?? ''
    lines.value = (head.lines ?? []).join('\n')
    closing.value = head.closing ?? ''
    country.value = head.country ?? ''
    language.value = head.language ?? 'en'
    review.value = now.rules.review
    customerSigns.value = now.rules.customer_signs ?? false
  },
  { immediate: true },
)

async function keep(): Promise<void> {
  kept.value = false
  const under = lines.value
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
  kept.value = await tried(() =>
    keepPaper({
      letterhead: {
        name: name.value.trim(),
        lines: under,
        closing: closing.value.trim(),
        country: country.value.trim().toUpperCase(),
        language: language.value,
      },
      review: review.value,
      customer_signs: customerSigns.value,
    }),
  )
}
</script>

<template>
  <main id="main" class="paper-page stack">
    <h1>{{ $t('router-paper-of-this-workshop') }}</h1>
    <p class="quiet lead">
      {{ $t('letterhead-it-stands-on-every-certificate') }}
    </p>
    <form v-if="data" class="form" @submit.prevent="keep">
      <div class="field">
        <label for="paper-name">{{ $t('letterhead-name-at-the-head-empty') }}</label><input
          id="paper-name"
          v-model="name"
          class="input"
          :disabled="!works"
          :placeholder="session.person.value?.workshop"
          :aria-invalid="Boolean(wrong('name'))"
        />
        <p v-if="wrong('name')" class="wrong" role="alert">{{ wrong('name') }}</p>
      </div>
      <div class="field">
        <label for="paper-lines">{{ $t('letterhead-lines-under-it-address-telephone') }}</label><textarea
          id="paper-lines"
          v-model="lines"
          class="input"
          rows="4"
          :disabled="!works"
          :aria-invalid="Boolean(wrong('lines'))"
        ></textarea>
        <p v-if="wrong('lines')" class="wrong" role="alert">{{ wrong('lines') }}</p>
      </div>
      <div class="field">
        <label for="paper-closing">{{ $t('letterhead-a-text-at-the-end') }}</label><textarea
          id="paper-closing"
          v-model="closing"
          class="input"
          rows="3"
          :disabled="!works"
          :aria-invalid="Boolean(wrong('closing'))"
        ></textarea>
        <p v-if="wrong('closing')" class="wrong" role="alert">{{ wrong('closing') }}</p>
      </div>
      <div class="row">
        <div class="field">
          <label for="paper-language">{{ $t('letterhead-language') }}</label><select
            id="paper-language"
            v-model="language"
            class="input"
            :disabled="!works"
          >
            <option v-for="l in data.languages" :key="l.language" :value="l.language">{{ l.name }}</option>
          </select>
        </div>
        <div class="field short">
          <label for="paper-country">{{ $t('letterhead-country-two-letters') }}</label><input
            id="paper-country"
            v-model="country"
            class="input"
            maxlength="2"
            :disabled="!works"
            :aria-invalid="Boolean(wrong('country'))"
          />
          <p v-if="wrong('country')" class="wrong" role="alert">{{ wrong('country') }}</p>
        </div>
      </div>
      <label class="check"
        ><input v-model="review" type="checkbox" name="review" :disabled="!manages" />
        {{ $t('letterhead-a-reviewer-approves-each-record') }}</label
      >
      <label class="check"
        ><input v-model="customerSigns" type="checkbox" name="customer-signs" :disabled="!works" />
        {{ $t('letterhead-the-customer-signs-on-the') }}</label
      >
      <p v-if="wrong('review')" class="wrong" role="alert">{{ wrong('review') }}</p>
      <p class="small quiet">
        {{ manages ? $t('letterhead-records-that-are-signed-already') : $t('letterhead-for-a-manager-to-decide') }}
      </p>
      <RefusalNote :failure="general(['name', 'lines', 'closing', 'country', 'review'])" />
      <div v-if="works" class="row">
        <Button type="submit" class="btn-next">{{ $t('common-save') }}</Button><span v-if="kept" role="status">{{
          $t('letterhead-kept')
        }}</span>
      </div>
    </form>
    <p v-if="manages" class="small">
      {{ $t('letterhead-who-changed-what-of-it') }}
      <RouterLink :to="{ name: 'audit' }">{{ $t('letterhead-audit-trail') }}</RouterLink>.
    </p>
  </main>
</template>

<style scoped>
.paper-page {
  padding: 1rem 1.25rem 2rem;
  max-width: 46rem;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 1rem;
  align-items: stretch;
}
.short {
  width: 12rem;
}
textarea {
  min-height: 4rem;
  padding: 0.5rem;
}
</style>
