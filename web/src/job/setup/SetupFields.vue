<script setup lang="ts">
import { say } from '../../words'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { api, settled } from '../../api/client'
import { useSites } from '../../api/profiles'
import { useVocabulary } from '../../api/scales'
import type { Assessment, SetupJudgement, Unit } from '../../api/types'
import type { SetupTyping } from '../useSetup'

const props = defineProps<{
  setup: SetupTyping
  judged: SetupJudgement | null
  wrong: (field: string) => string
  frozen: boolean
  sheet?: Assessment['sheet']
}>()
const { data: words } = useVocabulary()
const { data: sites } = useSites()
const f = props.setup.fields
const ranged = computed(() => f.mode.value !== 'single')
const places = computed(() => [
  { label: say('setup-fields-where-it-stands'), value: '' },
  ...(sites.value ?? []).map((s) => ({ label: s.name, value: s.name })),
])
const pads = computed(() => [
  { label: say('setup-fields-every-pad'), value: '0' },
  ...Array.from({ length: props.sheet?.pads ?? 1 }, (_, i) => ({
    label: say('setup-fields-pad-i', { i: i + 1 }),
    value: String(i + 1),
  })),
])
const unit = computed(() => f.unit.value)
// Another unit leaves two readings of a figure that stands there: it is asked which is meant.
const switched = ref<{ from: string; max: string; d: string } | null>(null)
watch(f.unit, async (now, before) => {
  switched.value = null
  if (!f.max.value.trim() || now === before) return
  const inUnit = async (mass: string) => {
    const told = await settled(
      api.GET('/api/understand', { params: { query: { text: `${mass} ${before}`, unit: now as Unit } } }),
    )
    return told.readable
  }
  try {
    const [max, d] = await Promise.all([inUnit(f.max.value), f.d.value.trim() ? inUnit(f.d.value) : ''])
    if (f.unit.value === now) switched.value = { from: before, max, d }
  } catch {
    // What cannot be read is told at its field.
  }
})
function convert(): void {
  if (!switched.value) return
  f.max.value = switched.value.max
  f.d.value = switched.value.d
  f.decimals.value = ''
  switched.value = null
}
</script>

<template>
  <div class="fields">
    <div class="field">
      <label for="setup-max">{{ $t('setup-fields-max-unit', { unit }) }}</label>
      <InputText
        id="setup-max"
        v-model="f.max.value"
        class="input input-figure"
        inputmode="decimal"
        autocomplete="off"
        autofocus
        :disabled="frozen"
        :aria-invalid="Boolean(wrong('max'))"
      />
      <p :class="wrong('max') ? 'wrong' : 'hint'">
        {{
          wrong('max') || (judged ? $t('setup-fields-keyed-in-as-max-digits', { max_digits: judged.max_digits }) : '')
        }}
      </p>
    </div>
    <div class="field">
      <label for="setup-d">{{ $t('setup-fields-division-unit', { unit }) }}</label>
      <InputText
        id="setup-d"
        v-model="f.d.value"
        class="input input-figure"
        inputmode="decimal"
        autocomplete="off"
        :disabled="frozen"
        :aria-invalid="Boolean(wrong('d'))"
      />
      <p :class="wrong('d') ? 'wrong' : 'hint'">{{ wrong('d') || $t('setup-fields-1-2-or-5-times') }}</p>
    </div>
    <div class="field narrow">
      <span class="label">{{ $t('common-unit') }}</span>
      <Select
        v-model="f.unit.value"
        label-id="setup-unit"
        :aria-label="$t('common-unit')"
        :options="words?.units ?? []"
        :disabled="frozen"
      />
    </div>
    <div class="field narrow">
      <label for="setup-decimals">{{ $t('common-decimals') }}</label>
      <InputText
        id="setup-decimals"
        v-model="f.decimals.value"
        inputmode="numeric"
        autocomplete="off"
        :placeholder="judged ? String(judged.setup.decimals) : ''"
        :disabled="frozen"
        :aria-invalid="Boolean(wrong('decimals'))"
      />
      <p v-if="wrong('decimals')" class="wrong">{{ wrong('decimals') }}</p>
    </div>
  </div>
  <div v-if="switched" class="note note-caution row" role="alert" data-testid="unit-switched">
    <span>{{
      $t('setup-fields-max-from-are-max2-unit', { max: f.max.value, from: switched.from, max2: switched.max, unit })
    }}</span><button type="button" class="btn" @click="switched = null">
      {{ $t('setup-fields-max-max-unit-the-figure', { max: f.max.value, unit }) }}</button
    ><button type="button" class="btn" @click="convert">
      {{ $t('setup-fields-convert-max-unit', { max: switched.max, unit }) }}
    </button>
  </div>
  <div class="more">
    <div class="field">
      <span class="label">{{ $t('common-ranges') }}</span><Select
        v-model="f.mode.value"
        :aria-label="$t('common-ranges')"
        :options="words?.modes ?? []"
        option-label="label"
        option-value="value"
        :disabled="frozen"
      />
    </div>
    <template v-if="ranged">
      <div class="field">
        <label for="setup-fine-max">{{ $t('setup-fields-finer-up-to-unit', { unit }) }}</label><InputText
          id="setup-fine-max"
          v-model="f.fine_max.value"
          class="input figure"
          inputmode="decimal"
          :disabled="frozen"
          :aria-invalid="Boolean(wrong('fine_max'))"
        />
        <p v-if="wrong('fine_max')" class="wrong">{{ wrong('fine_max') }}</p>
      </div>
      <div class="field">
        <label for="setup-fine-d">{{ $t('setup-fields-its-division-unit', { unit }) }}</label><InputText
          id="setup-fine-d"
          v-model="f.fine_d.value"
          class="input figure"
          inputmode="decimal"
          :disabled="frozen"
          :aria-invalid="Boolean(wrong('fine_d'))"
        />
        <p v-if="wrong('fine_d')" class="wrong">{{ wrong('fine_d') }}</p>
      </div>
    </template>
    <div v-if="sites?.length" class="field">
      <span class="label">{{ $t('common-adjusted') }}</span><Select
        v-model="f.adjusted_at.value"
        :aria-label="$t('common-adjusted')"
        :placeholder="$t('setup-fields-where-it-stands')"
        :options="places"
        option-label="label"
        option-value="value"
        :disabled="frozen"
      />
    </div>
    <div v-if="f.adjusted_at.value" class="field">
      <label for="setup-g">{{ $t('setup-fields-g-entered-m-s') }}</label><InputText
        id="setup-g"
        v-model="f.gravity.value"
        class="input figure"
        inputmode="decimal"
        :placeholder="$t('common-none')"
        :disabled="frozen"
        :aria-invalid="Boolean(wrong('gravity'))"
      />
      <p v-if="wrong('gravity')" class="wrong">{{ wrong('gravity') }}</p>
    </div>
    <div class="field">
      <span class="label">{{ $t('setup-fields-weights-keyed-in') }}</span><Select
        v-model="f.calibrated_in.value"
        :aria-label="$t('setup-fields-weights-keyed-in')"
        :placeholder="unit"
        :options="['', ...(words?.units ?? [])]"
        :disabled="frozen"
      />
    </div>
    <div v-if="(sheet?.pads ?? 1) > 1" class="field">
      <span class="label">{{ $t('setup-fields-for') }}</span><Select
        v-model="f.pad.value"
        :aria-label="$t('setup-fields-for-which-pad')"
        :options="pads"
        option-label="label"
        option-value="value"
        :disabled="frozen"
      />
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr 6rem 6rem;
  gap: 1rem;
  align-items: start;
}
.narrow :deep(.select),
.narrow :deep(.input) {
  min-height: 3.5rem;
}
.more {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(10rem, 1fr));
  gap: 0.4rem 1rem;
  align-items: start;
}
@media (max-width: 40rem) {
  .fields {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
