<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { ref, watch } from 'vue'
import { keepOwnClasses, useOwnClasses } from '../api/kit'
import type { OwnClass, Unit } from '../api/types'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'

// Classes of the workshop's own, as text: a name on a line of its own, then a nominal and its tolerance on each line.
const emit = defineEmits<{ close: [] }>()
const { data } = useOwnClasses()
const text = ref('')
const { failure, tried } = useTried()
const wrong = ref('')
watch(
  data,
  (classes) => {
    if (classes && !text.value)
      text.value = classes
        .map((c) =>
          [c.name, ...c.rows.map((r) => `  ${r.nominal.value} ${r.nominal.unit}  ${r.mpe.value} ${r.mpe.unit}`)].join(
            '\n',
          ),
        )
        .join('\n')
  },
  { immediate: true },
)
const ROW = /^\s+([\d.,]+)\s*(mg|g|kg|t|lb|oz|tn)\s+(?:±\s*)?([\d.,]+)\s*(mg|g|kg|t|lb|oz|tn)\s*$/

function read(): OwnClass[] | null {
  const classes: OwnClass[] = []
  for (const [at, line] of text.value.split('\n').entries()) {
    if (!line.trim()) continue
    const row = ROW.exec(line)
    const last = classes.at(-1)
    if (row && last)
      last.rows.push({
        nominal: { value: row[1]!.replace(',', '.'), unit: row[2] as Unit },
        mpe: { value: row[3]!.replace(',', '.'), unit: row[4] as Unit },
      })
    else if (/^\S/.test(line)) classes.push({ name: line.trim(), rows: [] })
    else {
      wrong.value = `Line ${at + 1}: a nominal with its unit, then the tolerance with its unit.`
      return null
    }
  }
  return classes
}
async function keep(): Promise<void> {
  wrong.value = ''
  const classes = read()
  if (classes && (await tried(() => keepOwnClasses(classes)))) emit('close')
}
</script>

<template>
  <Dialog :visible="true" modal header="Classes of your own" @update:visible="$emit('close')">
    <form class="stack tight" @submit.prevent="keep">
      <p class="small">
        Beside the classes of R 111-1 and HB 105-1. A name at the start of a line; below it, set in, a nominal and its
        tolerance on each line. A nominal that is not there has no tolerance.
      </p>
      <RefusalNote :failure="failure" />
      <div class="field">
        <label for="own-text">Classes</label
        ><textarea
          id="own-text"
          v-model="text"
          class="input figure"
          rows="12"
          spellcheck="false"
          :placeholder="'yard\n  25 kg  10 g\n  200 kg  80 g'"
        ></textarea>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      </div>
      <div class="row">
        <Button type="submit" class="btn-next">Keep them</Button
        ><Button type="button" class="btn-bare" @click="$emit('close')">Leave it</Button>
      </div>
    </form>
  </Dialog>
</template>
