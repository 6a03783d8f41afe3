<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { moveHands } from '../api/jobs'
import { useJob } from './useJob'

// The technician's hands at a practice scale: weights on and off, keys of its indicator.
const job = useJob()
const kg = ref('')
const seen = ref('')
const wrong = ref('')
const a = computed(() => job.assessment.value)
const setup = computed(() => a.value?.setup.setup)

async function act(command: string): Promise<void> {
  wrong.value = ''
  try {
    seen.value = (await moveHands(a.value?.sheet.id ?? '', command)).seen
  } catch (error) {
    wrong.value = error instanceof Error ? error.message : String(error)
  }
}
function put(word: 'put' | 'take'): void {
  void act(`${word} ${kg.value.trim().replace(',', '.')}`)
}
</script>

<template>
  <section class="practice" aria-label="Practice scale">
    <h2>Practice scale: your hands</h2>
    <form class="row tight" @submit.prevent="put('put')">
      <InputText v-model="kg" class="input kg figure" inputmode="decimal" aria-label="Weight to move, kg" placeholder="kg" />
      <Button type="submit">Put on</Button>
      <Button type="button" @click="put('take')">Take off</Button>
      <Button type="button" @click="act('clear')">Empty it</Button>
      <Button type="button" @click="act('push')">Push</Button>
    </form>
    <div class="row tight">
      <span class="small quiet">Keys:</span>
      <Button type="button" :disabled="!setup" @click="act(`setup ${setup?.max.value} ${setup?.d.value} ${setup?.decimals}`)">Set up</Button>
      <Button type="button" @click="act('zero')">Zero</Button>
      <Button type="button" :disabled="!a?.adjust.weight" @click="act(`span ${a?.adjust.weight?.value}`)">Span</Button>
      <Button type="button" @click="act('save')">Save</Button>
      <Button type="button" @click="act('quit')">Leave</Button>
    </div>
    <p v-if="wrong" class="wrong small" role="alert">The practice scale: {{ wrong }}</p>
    <p v-else class="small quiet figure" data-testid="practice-seen">{{ seen }}</p>
  </section>
</template>

<style scoped>
.practice { border-top: 2px dashed var(--ink-2); padding-top: 0.6rem; display: flex; flex-direction: column; gap: 0.5rem; }
.kg { width: 5.5rem; }
.practice :deep(.btn) { padding: 0.3rem 0.7rem; }
</style>
