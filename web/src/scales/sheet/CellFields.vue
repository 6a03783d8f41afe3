<script setup lang="ts">
import { computed } from 'vue'
import TextField from '../../ui/TextField.vue'
import type { SheetTyping } from '../sheet'
import FigureFields from './FigureFields.vue'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
const cells = [
  ['cell_count', 'scale-number-of-cells'],
  ['cell_e_max', 'scale-capacity-of-each-unit'],
  ['cell_sensitivity', 'calculators-sensitivity-mv-v'],
  ['cell_v_min', 'scale-v-min-unit'],
  ['cell_y', 'scale-or-y-e-max-v'],
  ['cell_n_lc', 'scale-most-divisions-n-lc'],
] as const
const ofIntervals = [
  ['cell_dr', 'scale-dead-load-output-return-dr'],
  ['cell_z', 'scale-or-z-e-max-2'],
] as const
const platform = [
  ['excitation', 'calculators-excitation-v'],
  ['lever_ratio', 'scale-lever-ratio-force-on-cells'],
  ['reserve', 'scale-overload-reserve-without-a-plate'],
  ['working_load', 'scale-working-load-unit-if-it'],
  ['dead_load', 'scale-dead-load-unit'],
] as const
const fields = computed(() => [...cells, ...(form.value.mode === 'multi_interval' ? ofIntervals : []), ...platform])
</script>

<template>
  <SheetSection :legend="$t('scale-cells-under-one-platform')">
    <FigureFields v-model="form" :fields="fields" :wrong="wrong" />
    <TextField id="stays_on_what" v-model="form.stays_on_what" :label="$t('scale-what-always-stays-on-it')" />
    <FigureFields v-model="form" :fields="[['stays_on', 'scale-its-mass-unit']]" :wrong="wrong" />
  </SheetSection>
</template>
