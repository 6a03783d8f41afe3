<script setup lang="ts">
import InputText from 'primevue/inputtext'

const model = defineModel<string>({ required: true })
withDefaults(
  defineProps<{
    id: string
    label: string
    wrong?: string
    figure?: boolean
    type?: string
    autocomplete?: string
    list?: string
  }>(),
  { wrong: '', type: 'text', autocomplete: 'off' },
)
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <InputText
      :id="id"
      v-model="model"
      :class="['input', { figure }]"
      :type="type"
      :list="list"
      :autocomplete="autocomplete"
      :aria-invalid="Boolean(wrong)"
      :aria-describedby="wrong ? `${id}-wrong` : undefined"
    />
    <p v-if="wrong" :id="`${id}-wrong`" class="wrong" role="alert">{{ wrong }}</p>
  </div>
</template>
