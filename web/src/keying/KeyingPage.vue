<script setup lang="ts">
import { massText } from '../ui/format'
import { say } from '../words'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { useJobQuery } from '../api/jobs'
import { useScale } from '../api/scales'
import { Failure } from '../api/client'
import { askKeying } from '../api/profiles'
import type { OperatingSettingsForm } from '../api/types'
import CannotList from './CannotList.vue'
import KeyingSheet from './KeyingSheet.vue'
import ProofBar from './ProofBar.vue'
import { useTyped } from '../state/typed'
import { refDebounced } from '../state/small'
import VirtualIndicator from './VirtualIndicator.vue'

// The keying sheet on paper: one A4 sheet; beside it, on the screen, a virtual indicator.
const props = defineProps<{ job: string }>()
const { data } = useJobQuery(() => props.job)
const a = computed(() => data.value?.assessment)
const { data: scale } = useScale(() => a.value?.sheet.id)
const profileId = computed(() => a.value?.sheet.profile?.id ?? scale.value?.sheet.profile?.id)
const weights = useTyped(() => `${props.job}.sheet-weights`)
const asked = refDebounced(weights, 200)
// How it is to behave in use, where its profile has items for that; what is empty is left as it is.
const operating = reactive({ automatic_zero: '', zero_tracking: '', start_unit: '', filter: '' })
const form = computed(() => ({ ...operating, start_unit: operating.start_unit || null }) as OperatingSettingsForm)
const items = computed(() =>
  (
    [
      ['automatic_zero', say('keying-automatic-zero-of-max')],
      ['zero_tracking', say('keying-zero-tracking-d-a-second')],
      ['filter', say('keying-filter-larger-is-stronger')],
    ] as const
  ).filter(([meaning]) => keyed.value?.profile.parameter.some((p) => p.meaning === meaning)),
)
const startUnits = computed(
  () => keyed.value?.profile.parameter.find((p) => p.meaning === 'start_unit')?.options?.map((o) => o.is) ?? [],
)
const list = computed(() =>
  asked.value
    .split(/[;\n]/)
    .map((w) => w.trim())
    .filter(Boolean),
)
const askedOperating = refDebounced(form, 200)
const { data: keyed, error } = useQuery({
  queryKey: computed(() => ['keying', props.job, a.value?.entries.length, list.value, askedOperating.value]),
  queryFn: () => askKeying(props.job, null, list.value, { operating: askedOperating.value }),
  placeholderData: keepPreviousData,
  enabled: computed(() => Boolean(a.value)),
})
// A weight that cannot be is told at its field, which stays there to be mended.
const wrong = (field: string) => (error.value instanceof Failure ? error.value.at(field) : '')
const wrongWeights = computed(() => wrong('weights'))
const wrongField = computed(() => ['weights', ...Object.keys(operating)].some((f) => wrong(f)))
const print = () => window.print()
</script>

<template>
  <main id="main" class="desk">
    <p v-if="error && !wrongField" class="note note-wrong" role="alert">{{ error.message }}</p>
    <div v-if="a" class="row tools no-print">
      <button type="button" class="btn btn-next" :disabled="!keyed?.sheet || Boolean(error)" @click="print">
        {{ $t('common-print') }}
      </button>
      <p v-if="!keyed?.sheet && keyed" class="small quiet">{{ $t('keying-what-cannot-be-entered-is') }}</p>
      <div class="field weights">
        <label for="weights">{{ $t('keying-span-weights-several-by') }}</label><input
          id="weights"
          v-model="weights"
          class="input figure"
          autocomplete="off"
          :aria-invalid="Boolean(wrongWeights)"
          :placeholder="a.adjust.weight ? massText(a.adjust.weight) : $t('keying-none-yet')"
        />
        <p v-if="wrongWeights" class="wrong" role="alert">{{ wrongWeights }}</p>
      </div>
      <div v-for="[field, label] in items" :key="field" class="field narrow">
        <label :for="field">{{ label }}</label><input
          :id="field"
          v-model="operating[field]"
          class="input figure"
          inputmode="decimal"
          :placeholder="$t('keying-as-it-is')"
          :aria-invalid="Boolean(wrong(field))"
        />
        <p v-if="wrong(field)" class="wrong" role="alert">{{ wrong(field) }}</p>
      </div>
      <div v-if="startUnits.length" class="field narrow">
        <label for="start_unit">{{ $t('keying-unit-at-power-on') }}</label><select
          id="start_unit"
          v-model="operating.start_unit"
          class="input"
        >
          <option value="">{{ $t('keying-as-it-is') }}</option>
          <option v-for="u in startUnits" :key="u">{{ u }}</option>
        </select>
      </div>
      <RouterLink class="btn btn-bare" :to="{ name: 'job', params: { job: props.job, stage: 'set_up' } }">{{
        $t('common-to-the-job')
      }}</RouterLink>
    </div>
    <CannotList v-if="keyed?.cannot.length && !error" :cannot="keyed.cannot" />
    <div v-if="a && keyed?.sheet && !error" class="two">
      <div class="stack">
        <KeyingSheet :assessment="a" :keyed="keyed" :sheet="keyed.sheet" />
        <ProofBar v-if="!a.sheet.practice" :job="props.job" :steps="keyed.sheet.steps" />
      </div>
      <section class="no-print stack">
        <h2>{{ $t('keying-try-it-first') }}</h2>
        <VirtualIndicator
          :profile="keyed.profile"
          :what="{ profile: profileId, job: props.job }"
          :weight="list[0] ?? (a.adjust.weight ? `${a.adjust.weight.value} ${a.adjust.weight.unit}` : undefined)"
        />
      </section>
    </div>
  </main>
</template>

<style scoped>
.desk {
  padding: 1rem 1.25rem 2rem;
  display: flex;
  flex-direction: column;
  gap: 1rem;
}
.weights {
  width: 18rem;
}
.narrow {
  width: 11rem;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(20rem, 1fr);
  gap: 1.75rem;
  align-items: start;
}
@media (max-width: 64rem) {
  .two {
    grid-template-columns: 1fr;
  }
}
@media print {
  .desk {
    padding: 0;
  }
  .two {
    display: block;
  }
}
</style>
