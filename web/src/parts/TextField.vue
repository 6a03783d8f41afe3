<script setup lang="ts">
import InputText from 'primevue/inputtext'

const model = defineModel<string>({ required: true })
defineProps<{ id: string; label: string; wrong?: string; figure?: boolean }>()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <InputText
      :id="id"
      v-model="model"
      :class="['input', { figure }]"
      autocomplete="off"
      :aria-invalid="Boolean(wrong)"
      :aria-describedby="wrong ? `${id}-wrong` : undefined"
    />
    <p v-if="wrong" :id="`${id}-wrong`" class="wrong" role="alert">{{ wrong }}</p>
  </div>
</template>
