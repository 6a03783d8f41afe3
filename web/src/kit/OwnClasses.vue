<script setup lang="ts">
import { say } from '../words'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { ref, watch } from 'vue'
import { keepOwnClasses, useOwnClasses } from '../api/kit'
import type { OwnClass, Unit } from '../api/types'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import { plain } from '../ui/format'

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
        nominal: { value: plain(row[1]!), unit: row[2] as Unit },
        mpe: { value: plain(row[3]!), unit: row[4] as Unit },
      })
    else if (/^\S/.test(line)) classes.push({ name: line.trim(), rows: [] })
    else {
      wrong.value = say('own-classes-line-at-a-nominal-with', { at: at + 1 })
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
  <Dialog :visible="true" modal :header="$t('own-classes-classes-of-your-own')" @update:visible="$emit('close')">
    <form class="stack tight" @submit.prevent="keep">
      <p class="small">
        {{ $t('own-classes-beside-the-classes-of-r') }}
      </p>
      <RefusalNote :failure="failure" />
      <div class="field">
        <label for="own-text">{{ $t('own-classes-classes') }}</label><textarea
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
        <Button type="submit" class="btn-next">{{ $t('own-classes-keep-them') }}</Button><Button
          type="button"
          class="btn-bare"
          @click="$emit('close')"
          >{{ $t('common-leave-it') }}</Button
        >
      </div>
    </form>
  </Dialog>
</template>
