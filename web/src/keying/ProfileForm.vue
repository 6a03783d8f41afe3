<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Profile, ProfileProblem } from '../api/types'
import TextField from '../ui/TextField.vue'
import ProfileItems from './ProfileItems.vue'
import ProfileMessages from './ProfileMessages.vue'

// A profile in a form: what it is called, its keys, its items, what its display says, its cautions.
const form = defineModel<Profile>({ required: true })
const props = defineProps<{ problems: ProfileProblem[]; readonly: boolean }>()
const wrong = (at: string): string => {
  const found = props.problems.find((p) => p.at === at)
  return found ? String(found.says) : ''
}
const about = computed({ get: () => form.value.about ?? '', set: (now) => (form.value.about = now) })
// One caution a line, as they are told.
const cautions = computed({
  get: () => (form.value.cautions ?? []).join('\n'),
  set: (now) => (form.value.cautions = now.split('\n').filter((line) => line.trim())),
})
const keys = computed(() => Object.entries(form.value.keys ?? {}))
const fresh = ref('')
function addKey(): void {
  const cap = fresh.value.trim()
  if (!cap || form.value.keys?.[cap]) return
  form.value.keys = { ...form.value.keys, [cap]: cap }
  fresh.value = ''
}
const setCap = (id: string, cap: string): void => {
  form.value.keys = { ...form.value.keys, [id]: cap }
}
function dropKey(id: string): void {
  form.value.keys = Object.fromEntries(keys.value.filter(([key]) => key !== id))
}
</script>

<template>
  <fieldset class="stack form" :disabled="readonly">
    <legend class="sr-only">{{ $t('profile-view-form') }}</legend>
    <TextField id="profile-name" v-model="form.name" :label="$t('profile-form-name')" :wrong="wrong('name')" />
    <TextField id="profile-about" v-model="about" :label="$t('profile-form-about')" :wrong="wrong('about')" />
    <div class="field">
      <label for="profile-cautions">{{ $t('profile-form-cautions') }}</label>
      <textarea id="profile-cautions" v-model.lazy="cautions" class="input" rows="2"></textarea>
      <p v-if="wrong('cautions')" class="wrong" role="alert">{{ wrong('cautions') }}</p>
    </div>
    <section class="stack tight">
      <h2>{{ $t('profile-form-keys') }}</h2>
      <p class="small quiet">{{ $t('profile-form-keys-as-printed') }}</p>
      <div class="row tight">
        <span v-for="[id, cap] in keys" :key="id" class="row tight key">
          <input
            class="input figure cap"
            :value="cap"
            :aria-label="$t('profile-form-key', { cap })"
            :aria-invalid="Boolean(wrong(`keys.${id}`))"
            @change="setCap(id, ($event.target as HTMLInputElement).value.trim())"
          />
          <button
            type="button"
            class="btn btn-bare"
            :aria-label="$t('profile-form-remove-key', { cap })"
            @click="dropKey(id)"
          >
            ×
          </button>
        </span>
        <input
          v-model="fresh"
          class="input figure cap"
          :aria-label="$t('profile-form-another-key')"
          @keydown.enter.prevent="addKey"
        />
        <button type="button" class="btn" :disabled="!fresh.trim()" @click="addKey">
          {{ $t('profile-form-add-key') }}
        </button>
      </div>
    </section>
    <ProfileItems v-model="form" :problems="problems" :wrong="wrong" />
    <ProfileMessages v-model="form" :wrong="wrong" />
    <p class="small quiet">{{ $t('profile-form-the-rest') }}</p>
  </fieldset>
</template>

<style scoped>
.form {
  border: none;
  padding: 0;
  margin: 0;
  min-width: 0;
}
.cap {
  width: 6rem;
}
.key {
  gap: 0;
}
</style>
