<script setup lang="ts">
import Select from 'primevue/select'
import { useVocabulary } from '../../api/scales'
import TextField from '../../ui/TextField.vue'
import type { SheetTyping } from '../sheet'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
const { data: words } = useVocabulary()
</script>

<template>
  <SheetSection :legend="$t('scale-what-its-plate-says')">
    <div class="field">
      <span class="label">{{ $t('calculators-unit-where-none-is-typed') }}</span><Select
        v-model="form.unit"
        :aria-label="$t('common-unit')"
        :options="words?.units ?? []"
      />
    </div>
    <TextField
      id="plate_max"
      v-model="form.plate_max"
      :label="$t('scale-rated-max-unit-empty-no', { unit: form.unit })"
      :wrong="wrong('plate_max')"
      figure
    />
    <TextField
      id="plate_d"
      v-model="form.plate_d"
      :label="$t('scale-smallest-division-unit', { unit: form.unit })"
      :wrong="wrong('plate_d')"
      figure
    />
    <div class="field">
      <span class="label">{{ $t('common-ranges') }}</span><Select
        v-model="form.mode"
        :aria-label="$t('scale-how-its-ranges-work')"
        :options="words?.modes ?? []"
        option-label="label"
        option-value="value"
      />
    </div>
    <template v-if="form.mode !== 'single'">
      <TextField
        id="fine_max"
        v-model="form.fine_max"
        :label="$t('scale-finer-range-up-to-unit', { unit: form.unit })"
        :wrong="wrong('fine_max')"
        figure
      />
      <TextField
        id="fine_d"
        v-model="form.fine_d"
        :label="$t('scale-its-division-unit', { unit: form.unit })"
        :wrong="wrong('fine_d')"
        figure
      />
    </template>
    <div class="field">
      <label for="switch">{{ $t('scale-calibration-switch-or-cover') }}</label>
      <select id="switch" v-model="form.switch" class="input">
        <option value="">{{ $t('scale-as-its-kind-usually-has') }}</option>
        <option value="yes">{{ $t('scale-there-is-one') }}</option>
        <option value="no">{{ $t('scale-there-is-none') }}</option>
      </select>
    </div>
  </SheetSection>
</template>
