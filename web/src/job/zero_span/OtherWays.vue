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
const newFactor = computed(() => String(would.value?.lines.find((l) => l.part === 'factor')?.figure ?? ''))
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
    <summary>{{ $t('other-ways-another-way') }}</summary>
    <div class="row tight">
      <Button v-if="zero" type="button" :disabled="entry.blocked.value" @click="entry.enter({ kind: 'zero_saved' })">{{
        $t('other-ways-zero-alone-saved-in-the')
      }}</Button>
      <template v-else>
        <Button
          v-if="factor"
          type="button"
          :aria-pressed="way === 'factor_set'"
          @click="way = way === 'factor_set' ? '' : 'factor_set'"
          >{{ $t('found-setup-correction-factor') }}</Button
        >
        <Button
          type="button"
          :aria-pressed="way === 'internal_matched'"
          @click="way = way === 'internal_matched' ? '' : 'internal_matched'"
          >{{ $t('other-ways-internal-weight') }}</Button
        >
      </template>
    </div>
    <p v-if="zero" class="small quiet">{{ $t('other-ways-only-where-the-fault-is') }}</p>
    <form v-else-if="way" class="stack tight" @submit.prevent="submit">
      <div class="grid">
        <TextField
          id="way-old"
          v-model="form.old"
          :label="
            way === 'factor_set'
              ? $t('other-ways-factor-as-it-is')
              : $t('other-ways-internal-weight-as-kept-unit', { unit })
          "
          :wrong="wrong('factor') || wrong('internal')"
          figure
        />
        <TextField
          id="way-load"
          v-model="form.load"
          :label="$t('common-load-unit', { unit })"
          :wrong="wrong('load')"
          figure
        />
        <TextField
          id="way-shown"
          v-model="form.shown"
          :label="$t('common-shown-unit', { unit })"
          :wrong="wrong('shown')"
          figure
        />
        <TextField
          id="way-zero"
          v-model="form.shown_zero"
          :label="$t('other-ways-shown-at-zero-unit', { unit })"
          :wrong="wrong('shown_zero')"
          figure
        />
        <p v-if="way === 'factor_set' && field" class="small quiet">
          {{
            $t('other-ways-label-has-digits-digits-decimals', {
              label: field.label,
              digits: field.digits,
              decimals: field.decimals ?? 0,
            })
          }}<template v-if="field.least || field.most">
            ({{
              [
                field.least && $t('other-ways-from-least', { least: field.least }),
                field.most && $t('other-ways-up-to-most', { most: field.most }),
              ]
                .filter(Boolean)
                .join(' ')
            }})</template
          >.
        </p>
        <div v-else-if="way === 'factor_set'" class="field">
          <label for="way-decimals">{{ $t('calculators-decimals-of-the-factor') }}</label><InputText
            id="way-decimals"
            v-model="form.decimals"
            class="input figure"
            inputmode="numeric"
          />
          <p v-if="wrong('decimals')" class="wrong">{{ wrong('decimals') }}</p>
        </div>
      </div>
      <div v-if="would" aria-live="polite">
        <p class="figure would" data-testid="way-would">{{ would.how }}</p>
        <p v-for="l in would.lines.filter((l) => l.note || l.part === 'digits')" :key="String(l.label)" class="small">
          {{ l.label }} <strong class="figure">{{ l.figure }}</strong> {{ l.note }}
        </p>
      </div>
      <KeySteps v-if="would && way === 'factor_set' && field" step="factor" :factor="newFactor" />
      <div class="row">
        <Button type="submit" class="tall" :disabled="entry.blocked.value || !would">{{
          $t('other-ways-entered-in-the-indicator')
        }}</Button>
        <p class="small quiet">
          {{
            !would
              ? $t('other-ways-when-the-old-figure-the')
              : way === 'factor_set'
                ? $t('other-ways-then-prove-it-at-a')
                : $t('other-ways-then-let-it-adjust-itself')
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
