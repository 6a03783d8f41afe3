<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import type { LiveView, Source } from '../../api/types'
import { useTyped } from '../../state/typed'

// A captured point: taken from the indicator when it is steady, or the counts typed with the word
// of the person that the steady sign held.
const props = defineProps<{
  action: string
  live: LiveView | null
  wrong: (field: string) => string
  blocked: boolean
  store: string
  capture: (source: Source, because: string) => Promise<boolean>
  quiet?: boolean
}>()
const counts = useTyped(() => props.store)
const steady = ref(false)
const because = ref('')
// The program has just refused: a reason stands beside the way out, which is filled.
const refused = computed(() => props.wrong('because') !== '')
watch(counts, () => (because.value = ''))

async function submit(): Promise<void> {
  const source: Source = props.live ? { from: 'live' } : { from: 'typed', text: counts.value, steady: steady.value }
  if (await props.capture(source, because.value)) {
    counts.value = ''
    because.value = ''
    steady.value = false
  }
}
</script>

<template>
  <form class="stack tight" @submit.prevent="submit">
    <template v-if="!live">
      <div class="row top">
        <div class="field counts">
          <label for="counts">{{ $t('capture-form-internal-counts-if-it-shows') }}</label>
          <InputText
            id="counts"
            v-model="counts"
            class="input input-figure"
            inputmode="numeric"
            autocomplete="off"
            :autofocus="!quiet"
            :aria-invalid="Boolean(wrong('counts'))"
          />
          <p :class="wrong('counts') ? 'wrong' : 'hint'">
            {{ wrong('counts') || $t('capture-form-empty-if-the-indicator-shows') }}
          </p>
        </div>
        <label class="check"
          ><input v-model="steady" type="checkbox" name="steady" />
          {{ $t('capture-form-the-steady-sign-held-for') }}</label
        >
      </div>
      <p v-if="wrong('steady')" class="wrong" role="alert">{{ wrong('steady') }}</p>
    </template>
    <p v-else-if="wrong('shown') || wrong('counts')" class="wrong" role="alert">
      {{ wrong('shown') || wrong('counts') }}
    </p>
    <div v-if="refused || because" class="field">
      <p class="wrong" role="alert">{{ wrong('because') }}</p>
      <label for="because">{{ $t('capture-form-it-is-so-all-the') }}</label>
      <InputText id="because" v-model="because" class="input" />
    </div>
    <div class="row">
      <Button
        type="submit"
        :class="quiet || refused ? 'tall' : 'btn-next'"
        :disabled="blocked"
        :autofocus="Boolean(live) && !quiet"
        >{{ action }}</Button
      >
      <p v-if="live && !live.steady" class="quiet">{{ $t('capture-form-waits-for-a-steady-reading') }}</p>
    </div>
  </form>
</template>

<style scoped>
.top {
  align-items: start;
}
.counts {
  width: 20rem;
}
.check {
  margin-top: 1.9rem;
}
</style>
