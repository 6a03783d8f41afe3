<script setup lang="ts">
import { say } from '../../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useInstruments } from '../../api/beside'
import { useTyped } from '../../state/typed'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// What is around the scale: without the temperature a record is no calibration certificate.
const job = useJob()
const entry = useEntry()
const temperature = useTyped(() => `${job.id}.temperature`)
const humidity = useTyped(() => `${job.id}.humidity`)
const pressure = useTyped(() => `${job.id}.pressure`)
const note = useTyped(() => `${job.id}.around`)
const { data: instruments } = useInstruments()
// The same instruments read the air from job to job.
const chosen = ref<string[]>(JSON.parse(localStorage.getItem('ombret.instruments') ?? '[]') as string[])
watch(instruments, (all) => {
  if (all) chosen.value = chosen.value.filter((id) => all.some((i) => i.id === id))
})
watch(chosen, (now) => localStorage.setItem('ombret.instruments', JSON.stringify(now)))
const read = computed(() => job.assessment.value?.conditions ?? [])
const wrong = computed(
  () => ['temperature', 'humidity', 'pressure', 'note', 'instruments'].map(entry.wrong).find(Boolean) ?? '',
)
const fields = computed(() => [
  { model: temperature, id: 'temperature', label: '°C' },
  { model: humidity, id: 'humidity', label: say('conditions-form-rh') },
  { model: pressure, id: 'pressure', label: 'hPa' },
])

async function submit(): Promise<void> {
  if (
    await entry.enter({
      kind: 'conditions_read',
      temperature: temperature.value,
      humidity: humidity.value,
      pressure: pressure.value,
      note: note.value,
      instruments: chosen.value,
    })
  )
    temperature.value = humidity.value = pressure.value = note.value = ''
}
</script>

<template>
  <form class="around" @submit.prevent="submit">
    <h2 class="head">{{ $t('conditions-form-around-the-scale') }}</h2>
    <p v-if="read.length" class="small">{{ read.join('; ') }}</p>
    <div class="row tight">
      <label v-for="f in fields" :key="f.id" class="small"
        ><InputText
          v-model="f.model.value"
          class="input figure"
          inputmode="decimal"
          :name="f.id"
          :aria-label="f.label"
          :aria-invalid="Boolean(entry.wrong(f.id))"
        />
        {{ f.label }}</label
      >
      <InputText
        v-model="note"
        class="input note"
        :aria-label="$t('conditions-form-anything-else-around-it')"
        :placeholder="$t('conditions-form-wind-rain-vibration')"
      />
      <Button type="submit" :disabled="entry.blocked.value">{{ $t('conditions-form-note-it') }}</Button>
    </div>
    <p v-if="instruments?.length" class="row tight small">
      <span class="quiet">{{ $t('conditions-form-read-with') }}</span>
      <label v-for="i in instruments" :key="i.id" class="check"
        ><input v-model="chosen" type="checkbox" :value="i.id" :name="`with-${i.serial}`" />
        <span class="figure">{{ i.serial }}</span><span v-if="i.doubt" class="wrong">{{ i.doubt }}</span></label
      >
    </p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </form>
</template>

<style scoped>
.around {
  border-top: 1px solid var(--rule);
  padding-top: 0.6rem;
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.around .input {
  width: 5rem;
}
.around .note {
  width: 12rem;
  background: var(--sheet);
  border-left-width: 1px;
}
.head {
  font-size: 1rem;
}
</style>
