<script setup lang="ts">
import { computed, ref } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Parameter, Profile } from '../api/types'
import TextField from '../ui/TextField.vue'
import { plain } from '../ui/format'
import OptionRows from './OptionRows.vue'

// One item of the menu: what it shows, what it means, what is entered at it.
const item = defineModel<Parameter>({ required: true })
defineProps<{ groups: NonNullable<Profile['group']>; wrong: (field: string) => string }>()
const { data: words } = useVocabulary()
const meaning = computed(() => words.value?.meanings.find((m) => m.value === item.value.meaning))
const widths = computed(() => Array.from({ length: words.value?.widest ?? 0 }, (_, i) => i + 1))

type How = 'nothing' | 'options' | 'number'
const how = computed<How>({
  get: () => (item.value.options?.length ? 'options' : item.value.digits ? 'number' : 'nothing'),
  set: (now) => {
    item.value.options = now === 'options' ? [{ is: '', shows: '' }] : []
    item.value.typed = false
    item.value.digits = now === 'number' ? 6 : null
    if (now !== 'number') Object.assign(item.value, { decimals: null, with_point: false, least: null, most: null })
  },
})
/** Nothing where nothing is typed. */
const text = (field: 'code' | 'inside' | 'answer') =>
  computed({
    get: () => item.value[field] ?? '',
    set: (now: string) => (item.value[field] = now.trim() ? now : null),
  })
const code = text('code')
const inside = text('inside')
const answer = text('answer')
// A figure that is none stays here, with a word beside it.
const FIGURE = /^-?\d+(\.\d+)?$/
const figures = ref<Record<string, string>>({})
const limit = (field: 'least' | 'most') =>
  computed({
    get: () => figures.value[field] ?? item.value[field] ?? '',
    set: (now: string) => {
      const figure = plain(now)
      const fits = figure === '' || FIGURE.test(figure)
      if (fits) item.value[field] = figure || null
      figures.value = fits ? { ...figures.value, [field]: undefined as never } : { ...figures.value, [field]: now }
    },
  })
const least = limit('least')
const most = limit('most')
const noFigure = (field: string) => figures.value[field] !== undefined
</script>

<template>
  <div class="stack tight item">
    <div class="row end">
      <TextField
        id="item-label"
        v-model="item.label"
        :label="$t('profile-field-label')"
        :wrong="wrong('label')"
        figure
      />
      <div class="field">
        <label for="item-meaning">{{ $t('profile-field-meaning') }}</label>
        <select id="item-meaning" v-model="item.meaning" class="input" :aria-invalid="Boolean(wrong('meaning'))">
          <option v-for="m in words?.meanings ?? []" :key="m.value" :value="m.value">{{ m.label }}</option>
        </select>
        <p v-if="wrong('meaning')" class="wrong" role="alert">{{ wrong('meaning') }}</p>
      </div>
      <label v-if="meaning?.has_points" class="field"
        ><span class="label">{{ $t('ask-item-point') }}</span
        ><select v-model="item.point" class="input short figure">
          <option v-for="n in 9" :key="n" :value="n">{{ n }}</option>
        </select></label
      >
    </div>
    <div class="row end">
      <label v-if="groups.length" class="field"
        ><span class="label">{{ $t('profile-field-inside') }}</span
        ><select v-model="inside" class="input">
          <option value="">{{ $t('profile-form-at-the-top') }}</option>
          <option v-for="g in groups" :key="g.id" :value="g.id">{{ g.label }}</option>
        </select></label
      >
      <TextField id="item-code" v-model="code" :label="$t('profile-field-code')" :wrong="wrong('code')" figure />
      <label class="check"><input v-model="item.per_pad" type="checkbox" /> {{ $t('profile-field-per-pad') }}</label>
    </div>
    <p v-if="wrong('per_pad')" class="wrong" role="alert">{{ wrong('per_pad') }}</p>
    <p v-if="meaning?.captures" class="small quiet">{{ $t('profile-form-opening-does-it') }}</p>
    <template v-else>
      <div class="row tight" role="group" :aria-label="$t('profile-form-how-entered')">
        <button
          v-for="h in ['options', 'number', 'nothing'] as const"
          :key="h"
          type="button"
          class="btn"
          :aria-pressed="how === h"
          @click="how = h"
        >
          {{ $t(`profile-form-how-${h}`) }}
        </button>
      </div>
      <OptionRows v-if="how === 'options'" v-model="item" :wrong="wrong('options')" />
      <div v-if="how === 'number' || item.typed" class="row end">
        <label class="field"
          ><span class="label">{{ $t('profile-field-digits') }}</span
          ><select v-model="item.digits" class="input short figure">
            <option v-for="n in widths" :key="n" :value="n">{{ n }}</option>
          </select></label
        >
        <template v-if="how === 'number'">
          <label class="field"
            ><span class="label">{{ $t('profile-field-decimals') }}</span
            ><select v-model="item.decimals" class="input wide">
              <option :value="null">{{ $t('profile-form-as-the-set-up') }}</option>
              <option v-for="n in [0, ...widths]" :key="n" :value="n">{{ n }}</option>
            </select></label
          >
          <TextField
            id="item-least"
            v-model.lazy="least"
            :label="$t('profile-field-least')"
            :wrong="noFigure('least') ? $t('profile-form-no-figure') : wrong('least')"
            figure
          />
          <TextField
            id="item-most"
            v-model.lazy="most"
            :label="$t('profile-field-most')"
            :wrong="noFigure('most') ? $t('profile-form-no-figure') : wrong('most')"
            figure
          />
          <label class="check"
            ><input v-model="item.with_point" type="checkbox" /> {{ $t('profile-field-with-point') }}</label
          >
        </template>
      </div>
      <p v-for="f in ['digits', 'decimals']" v-show="wrong(f)" :key="f" class="wrong" role="alert">{{ wrong(f) }}</p>
      <TextField
        v-if="item.meaning === 'other' && how !== 'nothing'"
        id="item-answer"
        v-model="answer"
        :label="$t('profile-field-answer')"
        :wrong="wrong('answer')"
        figure
      />
    </template>
  </div>
</template>

<style scoped>
.item {
  padding: 0.3rem 0 1rem;
}
.end {
  align-items: end;
}
.wide {
  width: 10rem;
}
.short {
  width: 7rem;
}
</style>
