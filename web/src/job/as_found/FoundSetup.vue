<script setup lang="ts">
import Button from 'primevue/button'
import { computed, reactive } from 'vue'
import { useVocabulary } from '../../api/scales'
import type { SetupDraft, Unit } from '../../api/types'
import TextField from '../../ui/TextField.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// How the indicator was found to be set up, where that is not what was expected: what is read as found is
// judged by it.
const job = useJob()
const entry = useEntry()
const expected = computed(() => job.assessment.value?.as_found.setup)
const pads = computed(() => job.assessment.value?.sheet.pads ?? 1)
const { data: words } = useVocabulary()
const form = reactive({
  max: expected.value?.max.value ?? '',
  d: expected.value?.d.value ?? '',
  unit: (expected.value?.d.unit ?? 'kg') as Unit,
  decimals: '',
  mode: expected.value?.mode ?? ('single' as const),
  fine_max: expected.value?.fine?.max.value ?? '',
  fine_d: expected.value?.fine?.d.value ?? '',
  factor: '',
  pad: 1,
})
async function submit(): Promise<void> {
  const { factor, pad, ...setup } = form
  const draft: SetupDraft = { ...setup, gravity: '', adjusted_at: null, calibrated_in: null, pad }
  await entry.enter({ kind: 'setup_found', setup: draft, factor })
}
const fields = ['max', 'd', 'decimals', 'fine_max', 'fine_d', 'factor']
</script>

<template>
  <details class="small" data-testid="setup-found">
    <summary>{{ $t('found-setup-it-is-set-up-otherwise') }}</summary>
    <form class="stack tight" @submit.prevent="submit">
      <div class="grid">
        <TextField id="found-max" v-model="form.max" :label="$t('common-max')" :wrong="entry.wrong('max')" figure />
        <TextField
          id="found-d"
          v-model="form.d"
          :label="$t('found-setup-division-d')"
          :wrong="entry.wrong('d')"
          figure
        />
        <div class="field">
          <label for="found-unit">{{ $t('common-unit') }}</label>
          <select id="found-unit" v-model="form.unit" class="input">
            <option v-for="u in words?.units ?? []" :key="u" :value="u">{{ u }}</option>
          </select>
        </div>
        <TextField
          id="found-decimals"
          v-model="form.decimals"
          :label="$t('common-decimals')"
          :wrong="entry.wrong('decimals')"
          figure
        />
        <TextField
          id="found-factor"
          v-model="form.factor"
          :label="$t('found-setup-correction-factor')"
          :wrong="entry.wrong('factor')"
          figure
        />
        <div class="field">
          <label for="found-mode">{{ $t('common-ranges') }}</label>
          <select id="found-mode" v-model="form.mode" class="input">
            <option v-for="m in words?.modes ?? []" :key="m.value" :value="m.value">{{ m.label }}</option>
          </select>
        </div>
        <template v-if="form.mode !== 'single'">
          <TextField
            id="found-fine-max"
            v-model="form.fine_max"
            :label="$t('found-setup-finer-range-up-to')"
            :wrong="entry.wrong('fine_max')"
            figure
          />
          <TextField
            id="found-fine-d"
            v-model="form.fine_d"
            :label="$t('found-setup-its-division')"
            :wrong="entry.wrong('fine_d')"
            figure
          />
        </template>
        <div v-if="pads > 1" class="field">
          <label for="found-pad">{{ $t('found-setup-pad') }}</label>
          <select id="found-pad" v-model="form.pad" class="input">
            <option v-for="n in pads" :key="n" :value="n">{{ n }}</option>
          </select>
        </div>
      </div>
      <p v-if="entry.general(fields)" class="wrong" role="alert">
        {{ [entry.general(fields)?.message, entry.general(fields)?.problem?.what_to_do].filter(Boolean).join('. ') }}
      </p>
      <div>
        <Button type="submit" :disabled="entry.blocked.value">{{ $t('found-setup-record-the-setup-as-found') }}</Button>
      </div>
    </form>
  </details>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(8rem, 1fr));
  gap: 0.6rem;
}
</style>
