<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { Failure, api, settled } from '../api/client'
import type { Unit } from '../api/types'

// A line that an indicator sent while it was steady makes the pattern; what is read of it shows at once.
const props = defineProps<{ unit: Unit }>()
const emit = defineEmits<{ made: [pattern: string, steady: string] }>()
const line = ref('')
const says = ref('')
const wrong = ref('')
async function make(): Promise<void> {
  says.value = wrong.value = ''
  try {
    const { pattern, shown, mark } = await settled(
      api.POST('/api/lines', { body: { line: line.value, unit: props.unit } }),
    )
    says.value = `read as ${shown.value} ${shown.unit}${mark === null ? '' : mark ? `, steady where it begins with ${pattern.steady}` : ', not steady'}`
    emit('made', pattern.pattern, pattern.steady)
  } catch (told) {
    if (told instanceof Failure) wrong.value = told.message
    else throw told
  }
}
</script>

<template>
  <div class="field wide">
    <label for="example">A line that it sent while it was steady makes the pattern</label>
    <div class="row tight">
      <InputText
        id="example"
        v-model="line"
        class="input figure grow"
        autocomplete="off"
        :aria-invalid="Boolean(wrong)"
        @keydown.enter.prevent="make"
      /><Button type="button" :disabled="!line.trim()" @click="make">Make the pattern</Button>
    </div>
    <p :class="wrong ? 'wrong' : 'hint'" data-testid="example-says" aria-live="polite">
      {{ wrong || says || 'such as ST,GS,+ 20.5 kg' }}
    </p>
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
.grow {
  flex: 1;
  width: auto;
}
</style>
