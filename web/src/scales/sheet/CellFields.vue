<script setup lang="ts">
import TextField from '../../ui/TextField.vue'
import type { SheetTyping } from '../sheet'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
</script>

<template>
  <SheetSection :legend="$t('scale-cells-under-one-platform')">
    <TextField
      id="cell_count"
      v-model="form.cell_count"
      :label="$t('scale-number-of-cells')"
      :wrong="wrong('cell_count')"
      figure
    />
    <TextField
      id="cell_e_max"
      v-model="form.cell_e_max"
      :label="$t('scale-capacity-of-each-unit', { unit: form.unit })"
      :wrong="wrong('cell_e_max')"
      figure
    />
    <TextField
      id="cell_sensitivity"
      v-model="form.cell_sensitivity"
      :label="$t('calculators-sensitivity-mv-v')"
      :wrong="wrong('cell_sensitivity')"
      figure
    />
    <TextField
      id="cell_v_min"
      v-model="form.cell_v_min"
      :label="$t('scale-v-min-unit', { unit: form.unit })"
      :wrong="wrong('cell_v_min')"
      figure
    />
    <TextField id="cell_y" v-model="form.cell_y" :label="$t('scale-or-y-e-max-v')" :wrong="wrong('cell_y')" figure />
    <TextField
      id="cell_n_lc"
      v-model="form.cell_n_lc"
      :label="$t('scale-most-divisions-n-lc')"
      :wrong="wrong('cell_n_lc')"
      figure
    />
    <template v-if="form.mode === 'multi_interval'">
      <TextField
        id="cell_dr"
        v-model="form.cell_dr"
        :label="$t('scale-dead-load-output-return-dr', { unit: form.unit })"
        :wrong="wrong('cell_dr')"
        figure
      />
      <TextField id="cell_z" v-model="form.cell_z" :label="$t('scale-or-z-e-max-2')" :wrong="wrong('cell_z')" figure />
    </template>
    <TextField
      id="excitation"
      v-model="form.excitation"
      :label="$t('calculators-excitation-v')"
      :wrong="wrong('excitation')"
      figure
    />
    <TextField
      id="lever_ratio"
      v-model="form.lever_ratio"
      :label="$t('scale-lever-ratio-force-on-cells')"
      :wrong="wrong('lever_ratio')"
      figure
    />
    <TextField
      id="reserve"
      v-model="form.reserve"
      :label="$t('scale-overload-reserve-without-a-plate')"
      :wrong="wrong('reserve')"
      figure
    />
    <TextField
      id="working_load"
      v-model="form.working_load"
      :label="$t('scale-working-load-unit-if-it', { unit: form.unit })"
      :wrong="wrong('working_load')"
      figure
    />
    <TextField
      id="dead_load"
      v-model="form.dead_load"
      :label="$t('scale-dead-load-unit', { unit: form.unit })"
      :wrong="wrong('dead_load')"
      figure
    />
    <TextField id="stays_on_what" v-model="form.stays_on_what" :label="$t('scale-what-always-stays-on-it')" />
    <TextField
      id="stays_on"
      v-model="form.stays_on"
      :label="$t('scale-its-mass-unit', { unit: form.unit })"
      :wrong="wrong('stays_on')"
      figure
    />
  </SheetSection>
</template>
