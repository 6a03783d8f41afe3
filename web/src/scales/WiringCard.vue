<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useVocabulary, useWiring } from '../api/scales'

// Which wire is which, each with its colour as it was found. Colours differ from cell to cell; none is
// assumed, and what is missing is said.
const lines = defineModel<string>({ required: true })
defineProps<{ wrong?: string }>()
const { data: words } = useVocabulary()
const sense = ref(false)
const wires = computed(() => (words.value?.wires ?? []).filter((w) => sense.value || !w.sense))
const parts = (line: string) => [line.split(':')[0]?.trim() ?? '', line.split(':').slice(1).join(':').trim()] as const
const known = computed(() => (words.value?.wires ?? []).map((w) => w.name))
const kept = computed(() => lines.value.split('\n').filter((l) => l.trim()))
const colour = (label: string) => kept.value.map(parts).find(([name]) => name === label)?.[1] ?? ''
const other = computed(() => kept.value.filter((l) => !known.value.includes(parts(l)[0])).join('\n'))
watch(
  [known, () => lines.value],
  () => {
    if ((words.value?.wires ?? []).some((w) => w.sense && colour(w.name))) sense.value = true
  },
  { immediate: true },
)
function write(label: string, text: string, others = other.value): void {
  const own = known.value
    .map((name) => [name, name === label ? text.trim() : colour(name)] as const)
    .filter(([, found]) => found)
    .map(([name, found]) => `${name}: ${found}`)
  lines.value = [...own, ...others.split('\n').filter((l) => l.trim())].join('\n')
}
const { data: judged } = useWiring(kept)
</script>

<template>
  <fieldset class="wiring" :aria-label="$t('inspection-wiring-card')">
    <legend>{{ $t('wiring-card-which-wire-is-which-as') }}</legend>
    <div class="row">
      <label class="check"
        ><input v-model="sense" type="radio" name="wires" :value="false" /> {{ $t('wiring-card-four-wires') }}</label
      >
      <label class="check"
        ><input v-model="sense" type="radio" name="wires" :value="true" /> {{ $t('wiring-card-six-with-sense') }}</label
      >
    </div>
    <datalist id="wire-colours"><option v-for="c in words?.colours ?? []" :key="c" :value="c" /></datalist>
    <div class="wires">
      <div v-for="w in wires" :key="w.id" class="field">
        <label :for="`wire-${w.id}`">{{ w.label }}</label><InputText
          :id="`wire-${w.id}`"
          :model-value="colour(w.name)"
          list="wire-colours"
          class="input"
          :placeholder="$t('wiring-card-colour-as-found')"
          autocomplete="off"
          @change="write(w.name, ($event.target as HTMLInputElement).value)"
        />
      </div>
    </div>
    <div class="field">
      <label for="wiring">{{ $t('wiring-card-anything-else-one-a-line') }}</label><textarea
        id="wiring"
        class="input"
        rows="2"
        :value="other"
        :aria-invalid="Boolean(wrong)"
        @change="write('', '', ($event.target as HTMLTextAreaElement).value)"
      ></textarea>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    </div>
    <p class="small" data-testid="wiring-says">
      {{ judged?.says ?? $t('wiring-card-no-wire-is-noted-yet') }}
    </p>
  </fieldset>
</template>

<style scoped>
.wiring {
  grid-column: 1 / -1;
  border: 1px solid var(--rule);
  margin: 0;
  padding: 0.4rem 0.8rem 0.8rem;
}
.wires {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.5rem 1rem;
  padding: 0.4rem 0;
}
</style>
