<script setup lang="ts">
import InputText from 'primevue/inputtext'
import TextField from '../../ui/TextField.vue'
import ExampleLine from '../ExampleLine.vue'
import type { SheetTyping } from '../sheet'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
</script>

<template>
  <SheetSection :legend="$t('scale-connection')">
    <label class="check wide"
      ><input v-model="form.connected" type="checkbox" name="connected" />
      {{ $t('scale-the-indicator-sends-its-readings') }}</label
    >
    <template v-if="form.connected">
      <TextField
        id="address"
        v-model="form.address"
        :label="$t('scale-address-host-port-or-serial')"
        :wrong="wrong('address')"
        figure
      />
      <TextField id="steady" v-model="form.steady" :label="$t('scale-text-of-its-steady-mark')" figure />
      <ExampleLine :unit="form.unit" @made="(pattern, steady) => Object.assign(form, { pattern, steady })" />
      <div class="field wide">
        <label for="pattern">{{ $t('scale-line-pattern') }}</label><InputText
          id="pattern"
          v-model="form.pattern"
          class="input figure"
          :aria-invalid="Boolean(wrong('pattern'))"
        />
        <p :class="wrong('pattern') ? 'wrong' : 'hint'">
          {{ wrong('pattern') || $t('scale-a-regular-expression-with-the') }}
        </p>
      </div>
    </template>
  </SheetSection>
</template>
