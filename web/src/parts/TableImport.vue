<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import Select from 'primevue/select'
import { reactive, ref } from 'vue'
import { readTable, takeKitFile } from '../api/kit'
import type { KitFile, KitFileRead, TableRead } from '../api/types'
import { useTried } from '../state/tried'
import RefusalNote from './RefusalNote.vue'

// A table is looked at first; it is taken in whole or not at all.
const emit = defineEmits<{ close: [] }>()
const ours = [
  'serial',
  'nominal',
  'class',
  'form',
  'set',
  'place',
  'holder',
  'certificate',
  'laboratory',
  'date',
  'due',
  'error',
  'U',
  'k',
]
const text = ref('')
const read = ref<TableRead | null>(null)
const whole = ref<{ file: KitFile; told: KitFileRead } | null>(null)
const mapping = reactive<Record<string, string>>({})
const { failure, tried } = useTried()
const wrong = ref('')

async function choose(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  wrong.value = ''
  read.value = null
  whole.value = null
  if (file.size > 4_000_000) {
    wrong.value = 'The file is larger than 4 MB: split it.'
    return
  }
  try {
    text.value = new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer())
  } catch {
    wrong.value = 'The file is not UTF-8 text: save it as CSV in UTF-8.'
    return
  }
  if (text.value.trimStart().startsWith('{')) await lookWhole(false)
  else await look(false)
}
async function lookWhole(take: boolean): Promise<void> {
  let file: KitFile
  try {
    file = JSON.parse(text.value) as KitFile
  } catch {
    wrong.value = 'The file begins like a kit file and is no JSON: it was cut off or changed.'
    return
  }
  await tried(async () => {
    const told = await takeKitFile(file, take)
    if (take && !told.errors.length) emit('close')
    whole.value = { file, told }
  })
}
async function look(take: boolean): Promise<void> {
  await tried(async () => {
    const told = await readTable({ text: text.value, unit: 'kg', mapping: { ...mapping }, take })
    if (take && !told.errors.length) emit('close')
    read.value = told
    for (const name of ours) mapping[name] ??= told.mapping[name] ?? ''
  })
}
</script>

<template>
  <Dialog :visible="true" modal header="Take in weights" class="wide-dialog" @update:visible="$emit('close')">
    <div class="stack">
      <div class="field">
        <label for="kit-file">A table (CSV in UTF-8, one piece a row) or a kit file (JSON)</label
        ><input
          id="kit-file"
          class="input"
          type="file"
          accept=".csv,text/csv,.json,application/json"
          @change="choose"
        />
      </div>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <RefusalNote :failure="failure" />
      <template v-if="whole">
        <div v-if="whole.told.errors.length" class="note note-wrong" role="alert" data-testid="row-errors">
          <p>
            <strong>Nothing is taken in: {{ whole.told.errors.length }} pieces are wrong.</strong>
          </p>
          <ul class="errors">
            <li v-for="(e, i) in whole.told.errors" :key="i">
              <span class="figure">piece {{ e.row }}</span
              >{{ e.column ? `, ${e.column}` : '' }}: {{ e.says }}
            </li>
          </ul>
        </div>
        <div class="row">
          <Button type="button" class="btn-next" :disabled="Boolean(whole.told.errors.length)" @click="lookWhole(true)"
            >Take in {{ whole.told.count }} pieces</Button
          >
        </div>
      </template>
      <template v-if="read">
        <div class="scroll">
          <table class="small">
            <thead>
              <tr>
                <th v-for="h in read.head" :key="h" scope="col">{{ h }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, i) in read.preview" :key="i">
                <td v-for="(cell, j) in row" :key="j">{{ cell }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <details :open="read.errors.some((e) => e.row === 1)">
          <summary>Which column is which</summary>
          <div class="grid">
            <div v-for="name in ours" :key="name" class="field">
              <span class="label">{{ name }}</span><Select
                v-model="mapping[name]"
                :aria-label="`Column for ${name}`"
                placeholder="none"
                :options="['', ...read.head]"
                @update:model-value="look(false)"
              />
            </div>
          </div>
        </details>
        <div v-if="read.errors.length" class="note note-wrong" role="alert" data-testid="row-errors">
          <p>
            <strong>Nothing is taken in: {{ read.errors.length }} rows are wrong.</strong>
          </p>
          <ul class="errors">
            <li v-for="(e, i) in read.errors" :key="i">
              <span class="figure">row {{ e.row }}</span
              >{{ e.column ? `, ${e.column}` : '' }}: {{ e.says }}
            </li>
          </ul>
        </div>
        <div class="row">
          <Button type="button" class="btn-next" :disabled="Boolean(read.errors.length)" @click="look(true)"
            >Take in {{ read.count }} pieces</Button
          >
        </div>
      </template>
    </div>
  </Dialog>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.5rem 1rem;
}
.errors {
  max-height: 30vh;
  overflow: auto;
}
summary {
  cursor: pointer;
  min-height: var(--target);
}
</style>
