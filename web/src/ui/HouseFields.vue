<script setup lang="ts">
import TextField from './TextField.vue'

// A rule of the house: every term that is typed, and which of them counts.
export interface HouseTyping {
  divisions: string
  percent_of_load: string
  percent_of_max: string
  mass: string
  pick: 'largest' | 'smallest'
}
const form = defineModel<HouseTyping>({ required: true })
defineProps<{ unit: string; wrong: (field: string) => string }>()
</script>

<template>
  <TextField
    id="house_divisions"
    v-model="form.divisions"
    :label="$t('house-fields-divisions-d')"
    :wrong="wrong('house_divisions')"
    figure
  />
  <TextField
    id="house_percent_of_load"
    v-model="form.percent_of_load"
    :label="$t('house-fields-of-the-load')"
    :wrong="wrong('house_percent_of_load')"
    figure
  />
  <TextField
    id="house_percent_of_max"
    v-model="form.percent_of_max"
    :label="$t('house-fields-of-max')"
    :wrong="wrong('house_percent_of_max')"
    figure
  />
  <TextField
    id="house_mass"
    v-model="form.mass"
    :label="$t('house-fields-mass-unit', { unit })"
    :wrong="wrong('house_mass')"
    figure
  />
  <div class="field">
    <label for="house_pick">{{ $t('house-fields-of-these-counts') }}</label>
    <select id="house_pick" v-model="form.pick" class="input">
      <option value="largest">{{ $t('house-fields-the-largest') }}</option>
      <option value="smallest">{{ $t('house-fields-the-smallest') }}</option>
    </select>
  </div>
</template>
