<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref } from 'vue'
import { moveHands } from '../api/jobs'
import { useJob } from '../job/useJob'

// The technician's hands at a practice scale: weights on and off, keys of its indicator.
const job = useJob()
const weight = ref('')
const seen = ref('')
const wrong = ref('')
const a = computed(() => job.assessment.value)
const setup = computed(() => a.value?.setup.setup)
const pads = computed(() => a.value?.sheet.pads ?? 1)
const internal = computed(() => seen.value.includes('internal weight'))
// The places of the corner test; the first is the middle.
const places = computed(() => a.value?.proof.tests.find((t) => t.test === 'corners')?.spots.slice(1) ?? [])
const where = ref('')
const figure = computed(() => weight.value.trim().replace(',', '.'))
// Hands and keys alike take figures in the unit that the display shows.
const unit = computed(() => setup.value?.d.unit ?? 'kg')

async function act(command: string): Promise<void> {
  wrong.value = ''
  try {
    seen.value = (await moveHands(a.value?.sheet.id ?? '', command)).seen
  } catch (error) {
    wrong.value = error instanceof Error ? error.message : String(error)
  }
}
function put(): void {
  void act(`put ${figure.value}${unit.value}${where.value}`)
}
function span(): void {
  const chosen = a.value?.adjust.weight
  if (chosen) void act(`span ${chosen.value}`)
  else wrong.value = 'no span weight is chosen yet: key it in first'
}
onMounted(() => void act('look'))
</script>

<template>
  <section class="practice" aria-label="Practice scale">
    <h2>Practice scale: your hands</h2>
    <form class="row tight" @submit.prevent="put">
      <InputText
        v-model="weight"
        class="input kg figure"
        inputmode="decimal"
        :aria-label="`Weight to move, ${unit}`"
        :placeholder="unit"
      />
      <select v-if="pads === 1 && places.length" v-model="where" class="input where" aria-label="Where it stands">
        <option value="">middle</option>
        <option v-for="p in places" :key="p.spot" :value="` at ${p.x} ${p.y}`">{{ p.place }}</option>
      </select>
      <Button type="submit">Put on</Button>
      <Button type="button" @click="act(`take ${figure}${unit}`)">Take off</Button>
      <Button type="button" @click="act('clear')">Empty it</Button>
      <Button type="button" @click="act('push')">Push</Button>
    </form>
    <div v-if="pads > 1" class="row tight">
      <span class="small quiet">Shows pad:</span
      ><Button v-for="p in pads" :key="p" type="button" @click="act(`pad ${p}`)">{{ p }}</Button
      ><Button type="button" @click="act('pad all')">All</Button>
    </div>
    <div class="row tight">
      <span class="small quiet">Keys:</span>
      <Button type="button" @click="act(`setup ${setup?.max.value} ${setup?.d.value} ${setup?.decimals}`)"
        >Set up</Button
      >
      <Button type="button" @click="act('zero')">Zero</Button>
      <Button type="button" @click="span">Span</Button>
      <Button type="button" title="A further point with the weight above" @click="act(`point ${figure}`)">Point</Button>
      <template v-if="internal"
        ><Button
          type="button"
          title="Key in the mass of the internal weight: the figure above"
          @click="act(`keep ${figure}`)"
          >Keep</Button
        ><Button type="button" @click="act('internal')">Internal</Button></template
      >
      <Button type="button" @click="act('save')">Save</Button>
      <Button type="button" @click="act('quit')">Leave</Button>
    </div>
    <p v-if="wrong" class="wrong small" role="alert">The practice scale: {{ wrong }}</p>
    <p v-else class="small quiet figure seen" data-testid="practice-seen">{{ seen }}</p>
  </section>
</template>

<style scoped>
.practice {
  border-top: 2px dashed var(--ink-2);
  padding-top: 0.6rem;
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
}
.kg {
  width: 5.5rem;
}
.where {
  width: auto;
}
.seen {
  white-space: normal;
}
.practice :deep(.btn) {
  padding: 0.3rem 0.7rem;
}
</style>
