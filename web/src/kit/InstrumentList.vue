<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { v7 } from 'uuid'
import { reactive, ref } from 'vue'
import { keepInstrument, removeInstrument, useInstruments } from '../api/beside'
import { useVocabulary } from '../api/scales'
import type { InstrumentKind } from '../api/types'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'
import { vCards } from '../ui/cards'

// Thermometers, hygrometers, barometers: what reads the air, named on the record with its certificate.
defineEmits<{ close: [] }>()
const { data } = useInstruments()
const { data: words } = useVocabulary()
const blank = () => ({
  id: v7(),
  kind: 'thermometer' as InstrumentKind,
  serial: '',
  certificate: '',
  laboratory: '',
  due: '',
})
const form = reactive(blank())
const version = ref(0)
const keeping = useTried()
async function keep(): Promise<void> {
  const done = await keeping.tried(() => keepInstrument({ ...form, due: form.due || null }, version.value))
  if (!done) return
  Object.assign(form, blank())
  version.value = 0
}
function edit(row: NonNullable<typeof data.value>[number]): void {
  const { id, kind, serial, certificate, laboratory, due } = row
  Object.assign(form, {
    id,
    kind,
    serial,
    certificate: certificate ?? '',
    laboratory: laboratory ?? '',
    due: due ?? '',
  })
  version.value = row.version
}
</script>

<template>
  <Dialog
    :visible="true"
    modal
    :header="$t('instrument-list-environment-instruments')"
    class="wide-dialog"
    @update:visible="$emit('close')"
  >
    <div class="stack">
      <p v-if="!data?.length" class="quiet">{{ $t('instrument-list-none-yet-a-certificate-names') }}</p>
      <table v-else v-cards>
        <thead>
          <tr>
            <th scope="col">{{ $t('instrument-list-mark') }}</th>
            <th scope="col">{{ $t('instrument-list-reads') }}</th>
            <th scope="col">{{ $t('common-certificate') }}</th>
            <th scope="col">{{ $t('common-due') }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in data" :key="i.id">
            <td class="figure">{{ i.serial }}</td>
            <td>{{ words?.instruments.find((k) => k.value === i.kind)?.label }}</td>
            <td>{{ [i.certificate, i.laboratory].filter(Boolean).join(', ') || $t('common-none') }}</td>
            <td class="figure" :class="{ wrong: i.doubt }" :title="i.doubt ? String(i.doubt) : undefined">
              {{ i.due ? dayText(i.due) : '–' }}
            </td>
            <td class="row tight">
              <Button type="button" @click="edit(i)">{{ $t('close-out-change') }}</Button><Button
                type="button"
                @click="keeping.tried(() => removeInstrument(i.id))"
                >{{ $t('instrument-list-remove') }}</Button
              >
            </td>
          </tr>
        </tbody>
      </table>
      <form class="grid" @submit.prevent="keep">
        <label class="field"
          ><span>{{ $t('instrument-list-it-reads') }}</span
          ><select v-model="form.kind" class="input">
            <option v-for="k in words?.instruments ?? []" :key="k.value" :value="k.value">{{ k.label }}</option>
          </select></label
        >
        <TextField
          id="instrument-serial"
          v-model="form.serial"
          :label="$t('instrument-list-serial-or-mark')"
          figure
          :wrong="keeping.wrong('serial')"
        />
        <TextField
          id="instrument-certificate"
          v-model="form.certificate"
          :label="$t('common-certificate')"
          figure
          :wrong="keeping.wrong('certificate')"
        />
        <TextField
          id="instrument-laboratory"
          v-model="form.laboratory"
          :label="$t('common-laboratory')"
          :wrong="keeping.wrong('laboratory')"
        />
        <TextField
          id="instrument-due"
          v-model="form.due"
          :label="$t('common-due')"
          type="date"
          :wrong="keeping.wrong('due')"
        />
        <Button type="submit" class="end">{{ version ? $t('common-save') : $t('close-out-add') }}</Button>
      </form>
      <RefusalNote :failure="keeping.general(['serial', 'certificate', 'laboratory', 'due'])" />
    </div>
  </Dialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.5rem 1rem;
  align-items: end;
}
</style>
