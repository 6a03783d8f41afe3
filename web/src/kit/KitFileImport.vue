<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { ref } from 'vue'
import { takeKitFile } from '../api/kit'
import type { KitFile, KitFileRead } from '../api/types'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import RowErrors from '../ui/RowErrors.vue'

// A kit file is looked at first; it is imported whole or not at all. Tables have a page of their own.
const emit = defineEmits<{ close: [] }>()
const whole = ref<{ file: KitFile; told: KitFileRead } | null>(null)
const { failure, tried } = useTried()
const wrong = ref('')

async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  // The same file, mended, may be chosen again.
  input.value = ''
  if (!chosen) return
  wrong.value = ''
  whole.value = null
  try {
    await look(JSON.parse(await chosen.text()) as KitFile, false)
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    wrong.value = 'This is no kit file: it is no JSON, or it was cut off.'
  }
}
async function look(file: KitFile, take: boolean): Promise<void> {
  await tried(async () => {
    const told = await takeKitFile(file, take)
    if (take && !told.errors.length) emit('close')
    whole.value = { file, told }
  })
}
</script>

<template>
  <Dialog :visible="true" modal header="Import a kit file" class="wide-dialog" @update:visible="$emit('close')">
    <div class="stack">
      <div class="field">
        <label for="kit-file">A kit file (JSON)</label
        ><input id="kit-file" class="input" type="file" accept=".json,application/json" @change="choose" />
      </div>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <RefusalNote :failure="failure" />
      <template v-if="whole">
        <RowErrors :errors="whole.told.errors" row="piece" />
        <div class="row">
          <Button
            type="button"
            :class="{ 'btn-next': !whole.told.errors.length }"
            :disabled="Boolean(whole.told.errors.length)"
            @click="look(whole.file, true)"
            >Import {{ whole.told.count }} pieces</Button
          >
        </div>
      </template>
    </div>
  </Dialog>
</template>
