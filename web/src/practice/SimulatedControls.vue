<script setup lang="ts">
import { say, type Text } from '../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref } from 'vue'
import { operateScale } from '../api/jobs'
import { useJob } from '../job/useJob'
import { plain } from '../ui/format'

// The technician's hands at a practice scale: weights on and off, keys of its indicator.
const job = useJob()
const weight = ref('')
const seen = ref<Text | null>(null)
const wrong = ref('')
const a = computed(() => job.assessment.value)
const setup = computed(() => a.value?.setup.setup)
const pads = computed(() => a.value?.sheet.pads ?? 1)
const internal = ref(false)
// The places of the corner test; the first is the middle.
const places = computed(() => a.value?.proof.tests.find((t) => t.test === 'eccentricity')?.positions.slice(1) ?? [])
const where = ref('')
const figure = computed(() => plain(weight.value))
// Hands and keys alike take figures in the unit that the display shows.
const unit = computed(() => setup.value?.d.unit ?? 'kg')

async function act(command: string): Promise<void> {
  wrong.value = ''
  try {
    const reply = await operateScale(a.value?.sheet.id ?? '', command)
    seen.value = reply.seen
    internal.value = reply.internal
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
  else wrong.value = say('simulated-controls-no-span-weight-is-chosen')
}
onMounted(() => void act('look'))
</script>

<template>
  <section class="practice" :aria-label="$t('simulated-controls-practice-scale')">
    <h2>{{ $t('simulated-controls-practice-scale-your-hands') }}</h2>
    <form class="row tight" @submit.prevent="put">
      <InputText
        v-model="weight"
        class="input kg figure"
        inputmode="decimal"
        :aria-label="$t('simulated-controls-weight-to-move-unit', { unit })"
        :placeholder="unit"
      />
      <select
        v-if="pads === 1 && places.length"
        v-model="where"
        class="input where"
        :aria-label="$t('simulated-controls-where-it-stands')"
      >
        <option value="">{{ $t('simulated-controls-middle') }}</option>
        <option v-for="p in places" :key="p.position" :value="` at ${p.x} ${p.y}`">{{ p.place }}</option>
      </select>
      <Button type="submit">{{ $t('simulated-controls-put-on') }}</Button>
      <Button type="button" @click="act(`take ${figure}${unit}`)">{{ $t('simulated-controls-take-off') }}</Button>
      <Button type="button" @click="act('clear')">{{ $t('simulated-controls-empty-it') }}</Button>
      <Button type="button" @click="act('push')">{{ $t('simulated-controls-push') }}</Button>
    </form>
    <div v-if="pads > 1" class="row tight">
      <span class="small quiet">{{ $t('simulated-controls-shows-pad') }}</span><Button
        v-for="p in pads"
        :key="p"
        type="button"
        @click="act(`pad ${p}`)"
        >{{ p }}</Button
      ><Button type="button" @click="act('pad all')">{{ $t('simulated-controls-all') }}</Button>
    </div>
    <div class="row tight">
      <span class="small quiet">{{ $t('simulated-controls-keys') }}</span>
      <Button type="button" @click="act(`setup ${setup?.max.value} ${setup?.d.value} ${setup?.decimals}`)">{{
        $t('simulated-controls-set-up')
      }}</Button>
      <Button type="button" @click="act('zero')">{{ $t('simulated-controls-zero') }}</Button>
      <Button type="button" @click="span">{{ $t('profile-span') }}</Button>
      <Button
        type="button"
        :title="$t('simulated-controls-a-further-point-with-the')"
        @click="act(`point ${figure}`)"
        >{{ $t('simulated-controls-point') }}</Button
      >
      <template v-if="internal"
        ><Button type="button" :title="$t('simulated-controls-key-in-the-mass-of')" @click="act(`keep ${figure}`)">{{
          $t('simulated-controls-keep')
        }}</Button
        ><Button type="button" @click="act('internal')">{{ $t('simulated-controls-internal') }}</Button></template
      >
      <Button type="button" @click="act('save')">{{ $t('common-save') }}</Button>
      <Button type="button" @click="act('quit')">{{ $t('simulated-controls-leave') }}</Button>
    </div>
    <p v-if="wrong" class="wrong small" role="alert">
      {{ $t('simulated-controls-the-practice-scale-wrong', { wrong }) }}
    </p>
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
