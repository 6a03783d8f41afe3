<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref, watch } from 'vue'
import { Failure } from '../../api/client'
import type { Assessment, Draft } from '../../api/types'
import TextField from '../../ui/TextField.vue'
import KeySteps from './KeySteps.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// Ways without a captured span: zero alone, a correction factor, an internal weight. What would come
// of it shows before it is entered.
const props = defineProps<{
  unit: string
  zero: boolean
  field: Assessment['adjust']['factor_field']
  factor: boolean
}>()
const job = useJob()
const entry = useEntry()
const way = ref<'' | 'factor_set' | 'internal_matched'>('')
const form = reactive({ old: '', load: '', shown: '', shown_zero: '', decimals: '4' })
const would = ref<Assessment['adjust'] | null>(null)
const early = ref<Failure | null>(null)

function draft(): Draft {
  const { old, load, shown, shown_zero, decimals } = form
  return way.value === 'factor_set'
    ? { kind: 'factor_set', factor: old, load, shown, shown_zero, decimals: props.field ? '' : decimals }
    : { kind: 'internal_matched', internal: old, load, shown, shown_zero }
}
let timer: ReturnType<typeof setTimeout> | undefined
watch([form, way], () => {
  clearTimeout(timer)
  would.value = null
  early.value = null
  if (!way.value || !form.old.trim() || !form.load.trim() || !form.shown.trim()) return
  timer = setTimeout(() => void look(), 140)
})
async function look(): Promise<void> {
  try {
    would.value = (await job.tryOut(draft())).assessment.adjust
  } catch (error) {
    if (error instanceof Failure && error.status === 422) early.value = error
  }
}
const newFactor = computed(() => would.value?.lines.find((l) => l.part === 'factor')?.figure ?? '')
const wrong = (field: string) =>
  entry.wrong(field) ||
  (early.value?.problem?.field === field
    ? [early.value.message, early.value.problem.what_to_do].filter(Boolean).join('. ')
    : '')
async function submit(): Promise<void> {
  if (await entry.enter(draft())) way.value = ''
}
</script>

<template>
  <details class="ways">
    <summary>Another way</summary>
    <div class="row tight">
      <Button v-if="zero" type="button" :disabled="entry.blocked.value" @click="entry.enter({ kind: 'zero_saved' })"
        >Zero alone, saved in the indicator</Button
      >
      <template v-else>
        <Button
          v-if="factor"
          type="button"
          :aria-pressed="way === 'factor_set'"
          @click="way = way === 'factor_set' ? '' : 'factor_set'"
          >Correction factor</Button
        >
        <Button
          type="button"
          :aria-pressed="way === 'internal_matched'"
          @click="way = way === 'internal_matched' ? '' : 'internal_matched'"
          >Internal weight</Button
        >
      </template>
    </div>
    <p v-if="zero" class="small quiet">Only where the fault is zero alone: the span stays as it was.</p>
    <form v-else-if="way" class="stack tight" @submit.prevent="submit">
      <div class="grid">
        <TextField
          id="way-old"
          v-model="form.old"
          :label="way === 'factor_set' ? 'Factor as it is' : `Internal weight as kept, ${unit}`"
          :wrong="wrong('factor') || wrong('internal')"
          figure
        />
        <TextField id="way-load" v-model="form.load" :label="`Load, ${unit}`" :wrong="wrong('load')" figure />
        <TextField id="way-shown" v-model="form.shown" :label="`Shown, ${unit}`" :wrong="wrong('shown')" figure />
        <TextField
          id="way-zero"
          v-model="form.shown_zero"
          :label="`Shown at zero, ${unit}`"
          :wrong="wrong('shown_zero')"
          figure
        />
        <p v-if="way === 'factor_set' && field" class="small quiet">
          “{{ field.label }}” has {{ field.digits }} digits, {{ field.decimals ?? 0 }} of them decimals<template
            v-if="field.least || field.most"
          >
            ({{
              [field.least && `from ${field.least}`, field.most && `up to ${field.most}`].filter(Boolean).join(' ')
            }})</template
          >.
        </p>
        <div v-else-if="way === 'factor_set'" class="field">
          <label for="way-decimals">Decimals of the factor</label
          ><InputText id="way-decimals" v-model="form.decimals" class="input figure" inputmode="numeric" />
          <p v-if="wrong('decimals')" class="wrong">{{ wrong('decimals') }}</p>
        </div>
      </div>
      <div v-if="would" aria-live="polite">
        <p class="figure would" data-testid="way-would">{{ would.how }}</p>
        <p v-for="l in would.lines.filter((l) => l.note || l.part === 'digits')" :key="l.label" class="small">
          {{ l.label }} <strong class="figure">{{ l.figure }}</strong> {{ l.note }}
        </p>
      </div>
      <KeySteps v-if="would && way === 'factor_set' && field" step="factor" :factor="newFactor" />
      <div class="row">
        <Button type="submit" class="tall" :disabled="entry.blocked.value || !would">Entered in the indicator</Button>
        <p class="small quiet">
          {{
            !would
              ? 'When the old figure, the load and what is shown are in, the new one stands here.'
              : way === 'factor_set'
                ? 'Then prove it at a second load.'
                : 'Then let it adjust itself, and read it.'
          }}
        </p>
      </div>
    </form>
  </details>
</template>

<style scoped>
.ways {
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
summary {
  cursor: pointer;
  min-height: var(--target);
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(10rem, 1fr));
  gap: 0.6rem 1rem;
  align-items: end;
  padding-top: 0.6rem;
}
.would {
  font-size: 1.35rem;
  font-weight: 650;
}
</style>
