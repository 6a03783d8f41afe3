<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { v7 as uuidv7 } from 'uuid'
import { reactive } from 'vue'
import { weighObject } from '../api/kit'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

// An object that was weighed on a scale that was just proved: it adjusts another scale, it proves nothing.
const emit = defineEmits<{ close: [] }>()
const form = reactive({ id: uuidv7(), serial: '', record: '', shown: '', place: '' })
const { failure, tried, wrong } = useTried()
async function keep(): Promise<void> {
  if (await tried(() => weighObject({ ...form }))) emit('close')
}
</script>

<template>
  <Dialog :visible="true" modal header="An object that was weighed" @update:visible="$emit('close')">
    <form class="stack tight" @submit.prevent="keep">
      <p class="small">
        For work without trade use. Its mass is what a scale showed that was just proved, and it carries that scale's
        tolerance on: a job that rests on it is adjusted, not proven.
      </p>
      <RefusalNote
        :failure="failure && !['serial', 'record', 'shown'].includes(failure.problem?.field ?? '') ? failure : null"
      />
      <TextField id="o-serial" v-model="form.serial" label="What it is, as marked on it" :wrong="wrong('serial')" />
      <TextField
        id="o-record"
        v-model="form.record"
        label="Number of the record that proved the scale"
        :wrong="wrong('record')"
        figure
      />
      <TextField id="o-shown" v-model="form.shown" label="What that scale showed" :wrong="wrong('shown')" figure />
      <TextField id="o-place" v-model="form.place" label="Where it is kept" />
      <div class="row">
        <Button type="submit" class="btn-next">Keep it</Button
        ><Button type="button" class="btn-bare" @click="$emit('close')">Leave it</Button>
      </div>
    </form>
  </Dialog>
</template>
