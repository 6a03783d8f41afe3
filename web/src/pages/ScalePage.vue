<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { v7 as uuidv7 } from 'uuid'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Failure } from '../api/client'
import { useSaveScale, useScale, useVocabulary } from '../api/scales'
import type { ScaleDetail, ScaleForm } from '../api/types'
import RefusalNote from '../parts/RefusalNote.vue'
import TextField from '../parts/TextField.vue'
import { session } from '../state/session'

const props = defineProps<{ scale?: string }>()
const router = useRouter()
const { data: words } = useVocabulary()
const { data: detail, error } = useScale(() => props.scale)
const save = useSaveScale()
const failure = ref<Failure | null>(null)
const connected = ref(false)
const works = computed(() => session.person.value?.role === 'technician')
const form = reactive({
  id: uuidv7(), name: '', owner: '', place: '', kind: 'floor' as ScaleForm['kind'], serial: '', indicator: '', unit: 'kg' as ScaleForm['unit'], plate_max: '', plate_d: '',
  trade: false, scheme: 'r76_in_service' as ScaleForm['tolerance']['scheme'], class: 'III' as NonNullable<ScaleForm['tolerance']['class']>, divisions: '', percent: '', months: '12', width: '6', address: '', hands: '', pattern: '', steady: 'steady', version: 0,
})
const scheme = computed(() => words.value?.schemes.find((s) => s.value === form.scheme))
const house = computed(() => form.scheme === 'house')
const fields = ['name', 'owner', 'place', 'serial', 'indicator', 'plate_max', 'plate_d', 'interval_months', 'field_width', 'address', 'pattern', 'tolerance']

watch([detail, words], ([found]) => {
  if (found) fill(found)
  if (!form.pattern && words.value) form.pattern = words.value.line_pattern
}, { immediate: true })
watch(scheme, (now) => {
  if (now?.classes.length && !now.classes.includes(form.class)) form.class = now.classes[0] ?? 'III'
})

function fill({ sheet, device, version }: ScaleDetail): void {
  Object.assign(form, {
    id: sheet.id, name: sheet.name, owner: sheet.owner, place: sheet.place, kind: sheet.kind, serial: sheet.serial, indicator: sheet.indicator, unit: sheet.plate.d_min.unit,
    plate_max: `${sheet.plate.max.value} ${sheet.plate.max.unit}`, plate_d: `${sheet.plate.d_min.value} ${sheet.plate.d_min.unit}`, trade: sheet.trade, scheme: sheet.tolerance.scheme,
    class: sheet.tolerance.class ?? 'III', divisions: sheet.tolerance.house?.divisions ?? '', percent: sheet.tolerance.house?.percent_of_load ?? '', months: String(sheet.interval_months), width: String(sheet.field_width),
    address: device?.address ?? '', hands: device?.hands ?? '', pattern: device?.pattern?.pattern ?? words.value?.line_pattern ?? '', steady: device?.pattern?.steady ?? 'steady', version,
  })
  connected.value = Boolean(device)
}
function tolerance(): ScaleForm['tolerance'] {
  // A house rule or table that has more than this page edits is kept as it was.
  if (form.scheme === detail.value?.sheet.tolerance.scheme && form.scheme === 'table') return detail.value.sheet.tolerance
  if (!house.value) return { scheme: form.scheme, class: form.class }
  const rule = detail.value?.sheet.tolerance.house ?? { pick: 'largest' as const }
  return { scheme: 'house', house: { ...rule, divisions: form.divisions.trim().replace(',', '.') || null, percent_of_load: form.percent.trim().replace(',', '.') || null } }
}
const whole = (text: string): number => (/^\d{1,3}$/.test(text.trim()) ? Math.min(Number(text), 255) : 0)
function wrong(field: string): string {
  return failure.value?.problem?.field === field ? failure.value.message : ''
}
async function submit(): Promise<void> {
  failure.value = null
  try {
    const saved = await save.mutateAsync({
      id: form.id, name: form.name, owner: form.owner, place: form.place, kind: form.kind, serial: form.serial, indicator: form.indicator, unit: form.unit,
      plate_max: form.plate_max, plate_d: form.plate_d, trade: form.trade, tolerance: tolerance(), interval_months: whole(form.months), field_width: whole(form.width), version: form.version,
      device: connected.value ? { address: form.address.trim(), hands: form.hands.trim() || null, pattern: { pattern: form.pattern, steady: form.steady, unit: form.unit } } : null,
    })
    await (props.scale ? router.push({ name: 'home' }) : router.replace({ name: 'scale', params: { scale: saved.sheet.id } }))
  } catch (told) {
    if (told instanceof Failure) failure.value = told
    else throw told
  }
}
</script>

<template>
  <main id="main" class="sheet">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <form v-else class="stack" @submit.prevent="submit">
      <h1>{{ props.scale ? form.name || 'Scale' : 'New scale' }}</h1>
      <RefusalNote :failure="failure && !fields.includes(failure.problem?.field ?? '') ? failure : null" />
      <fieldset :disabled="!works">
        <legend>Which one</legend>
        <TextField id="name" v-model="form.name" label="Name its owner gives it" :wrong="wrong('name')" />
        <TextField id="owner" v-model="form.owner" label="Owner" :wrong="wrong('owner')" />
        <TextField id="place" v-model="form.place" label="Place" :wrong="wrong('place')" />
        <div class="field"><span class="label">Kind</span><Select v-model="form.kind" aria-label="Kind" :options="words?.kinds ?? []" option-label="label" option-value="value" /></div>
        <TextField id="serial" v-model="form.serial" label="Serial" :wrong="wrong('serial')" />
        <TextField id="indicator" v-model="form.indicator" label="Indicator" :wrong="wrong('indicator')" />
      </fieldset>
      <fieldset :disabled="!works">
        <legend>What its plate says</legend>
        <div class="field"><span class="label">Unit</span><Select v-model="form.unit" aria-label="Unit" :options="words?.units ?? []" /></div>
        <TextField id="plate_max" v-model="form.plate_max" :label="`Rated Max, ${form.unit}`" :wrong="wrong('plate_max')" figure />
        <TextField id="plate_d" v-model="form.plate_d" :label="`Smallest division, ${form.unit}`" :wrong="wrong('plate_d')" figure />
      </fieldset>
      <fieldset :disabled="!works">
        <legend>How it is judged</legend>
        <div class="field"><span class="label">Tolerance</span><Select v-model="form.scheme" aria-label="Tolerance" :options="words?.schemes.filter((s) => s.value !== 'table' || form.scheme === 'table') ?? []" option-label="label" option-value="value" /></div>
        <div v-if="scheme?.classes.length" class="field"><span class="label">Class</span><Select v-model="form.class" aria-label="Class" :options="scheme.classes" /></div>
        <TextField v-if="house" id="divisions" v-model="form.divisions" label="± divisions" figure />
        <TextField v-if="house" id="percent" v-model="form.percent" label="or ± per cent of load, the larger" figure />
        <p v-if="wrong('tolerance')" class="wrong" role="alert">{{ wrong('tolerance') }}</p>
        <label class="check"><input v-model="form.trade" type="checkbox" name="trade" /> Used for trade</label>
        <TextField id="interval_months" v-model="form.months" label="Months between checks" :wrong="wrong('interval_months')" figure />
        <TextField id="field_width" v-model="form.width" label="Digits in its entry field" :wrong="wrong('field_width')" figure />
      </fieldset>
      <fieldset :disabled="!works">
        <legend>Connection</legend>
        <label class="check wide"><input v-model="connected" type="checkbox" name="connected" /> The indicator sends its readings over the network</label>
        <template v-if="connected">
          <TextField id="address" v-model="form.address" label="Address, host:port" :wrong="wrong('address')" figure />
          <TextField id="steady" v-model="form.steady" label="Text of its steady mark" figure />
          <TextField id="hands" v-model="form.hands" label="Practice scale only: address of its hands" figure />
          <div class="field wide"><label for="pattern">Line pattern</label><InputText id="pattern" v-model="form.pattern" class="input figure" :aria-invalid="Boolean(wrong('pattern'))" /><p :class="wrong('pattern') ? 'wrong' : 'hint'">{{ wrong('pattern') || 'a regular expression with the groups value, unit, mark, fine, counts; see docs/line-format.md' }}</p></div>
        </template>
      </fieldset>
      <div v-if="works" class="row"><Button type="submit" class="btn-next" :disabled="save.isPending.value">{{ props.scale ? 'Keep the changes' : 'Add the scale' }}</Button><RouterLink class="btn btn-bare" :to="{ name: 'home' }">Back to the scales</RouterLink></div>
    </form>
  </main>
</template>

<style scoped>
.sheet { padding: 1.25rem; max-width: 72rem; }
fieldset { border: none; border-top: 1px solid var(--rule); margin: 0; padding: 0.4rem 0 0.6rem; display: grid; grid-template-columns: repeat(3, 1fr); gap: 0.6rem 1.5rem; align-items: start; }
legend { font-weight: 650; padding-right: 1rem; }
.wide { grid-column: 1 / -1; }
.check { align-self: end; }
@media (max-width: 50rem) { fieldset { grid-template-columns: 1fr; } }
</style>
