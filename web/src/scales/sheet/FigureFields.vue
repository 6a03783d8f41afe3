<script setup lang="ts">
import TextField from '../../ui/TextField.vue'
import type { SheetTyping } from '../sheet'

// Figures of a sheet that are typed as text: the name of each, which is its place in a refusal too, and its label.
type Typed = {
  [K in keyof SheetTyping]: SheetTyping[K] extends string ? (string extends SheetTyping[K] ? K : never) : never
}
const form = defineModel<SheetTyping>({ required: true })
defineProps<{ fields: readonly (readonly [Typed[keyof SheetTyping], string])[]; wrong: (field: string) => string }>()
</script>

<template>
  <TextField
    v-for="[name, label] in fields"
    :id="name"
    :key="name"
    v-model="form[name]"
    :label="$t(label, { unit: form.unit })"
    :wrong="wrong(name)"
    figure
  />
</template>
