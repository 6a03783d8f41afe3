<script setup lang="ts">
import { say } from '../words'
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
    wrong.value = say('kit-file-import-this-is-no-kit-file')
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
  <Dialog
    :visible="true"
    modal
    :header="$t('kit-file-import-import-a-kit-file')"
    class="wide-dialog"
    @update:visible="$emit('close')"
  >
    <div class="stack">
      <div class="field">
        <label for="kit-file">{{ $t('kit-file-import-a-kit-file-json') }}</label><input
          id="kit-file"
          class="input"
          type="file"
          accept=".json,application/json"
          @change="choose"
        />
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
            >{{ $t('kit-file-import-import-count-pieces', { count: whole.told.count }) }}</Button
          >
        </div>
      </template>
    </div>
  </Dialog>
</template>
