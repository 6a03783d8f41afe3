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
  <Dialog :visible="true" modal :header="$t('object-form-an-object-that-was-weighed')" @update:visible="$emit('close')">
    <form class="stack tight" @submit.prevent="keep">
      <p class="small">
        {{ $t('object-form-for-work-without-trade-use') }}
      </p>
      <RefusalNote
        :failure="failure && !['serial', 'record', 'shown'].includes(failure.problem?.field ?? '') ? failure : null"
      />
      <TextField
        id="o-serial"
        v-model="form.serial"
        :label="$t('object-form-what-it-is-as-marked')"
        :wrong="wrong('serial')"
      />
      <TextField
        id="o-record"
        v-model="form.record"
        :label="$t('object-form-number-of-the-record-that')"
        :wrong="wrong('record')"
        figure
      />
      <TextField
        id="o-shown"
        v-model="form.shown"
        :label="$t('object-form-what-that-scale-showed')"
        :wrong="wrong('shown')"
        figure
      />
      <TextField id="o-place" v-model="form.place" :label="$t('object-form-where-it-is-kept')" />
      <div class="row">
        <Button type="submit" class="btn-next">{{ $t('object-form-keep-it') }}</Button><Button
          type="button"
          class="btn-bare"
          @click="$emit('close')"
          >{{ $t('common-leave-it') }}</Button
        >
      </div>
    </form>
  </Dialog>
</template>
