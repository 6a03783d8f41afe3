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
    label="± divisions, d"
    :wrong="wrong('house_divisions')"
    figure
  />
  <TextField
    id="house_percent_of_load"
    v-model="form.percent_of_load"
    label="± % of the load"
    :wrong="wrong('house_percent_of_load')"
    figure
  />
  <TextField
    id="house_percent_of_max"
    v-model="form.percent_of_max"
    label="± % of Max"
    :wrong="wrong('house_percent_of_max')"
    figure
  />
  <TextField id="house_mass" v-model="form.mass" :label="`± mass, ${unit}`" :wrong="wrong('house_mass')" figure />
  <div class="field">
    <label for="house_pick">Of these counts</label>
    <select id="house_pick" v-model="form.pick" class="input">
      <option value="largest">the largest</option>
      <option value="smallest">the smallest</option>
    </select>
  </div>
</template>
