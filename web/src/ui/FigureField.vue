<script setup lang="ts">
import InputText from 'primevue/inputtext'

// A figure that is read or put on: large, with what is wrong with it or a hint below.
defineOptions({ inheritAttrs: false })
const model = defineModel<string>({ required: true })
withDefaults(defineProps<{ id: string; label: string; wrong?: string; hint?: string }>(), { wrong: '', hint: '' })
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <InputText
      :id="id"
      v-model="model"
      class="input input-figure"
      inputmode="decimal"
      autocomplete="off"
      v-bind="$attrs"
      :aria-invalid="Boolean(wrong)"
      :aria-describedby="`${id}-hint`"
    />
    <p :id="`${id}-hint`" :class="wrong ? 'wrong' : 'hint'">{{ wrong || hint }}</p>
  </div>
</template>
