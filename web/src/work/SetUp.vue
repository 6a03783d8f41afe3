<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { Failure } from '../api/client'
import { judgeSetup } from '../api/jobs'
import { useVocabulary } from '../api/scales'
import type { Draft, SetupJudgement, Unit } from '../api/types'
import RefusalNote from '../parts/RefusalNote.vue'
import { useTyped } from '../state/typed'
import FindingList from './FindingList.vue'
import WorkFrame from './WorkFrame.vue'
import { useEntry } from './useEntry'
import { useJob } from './useJob'
import { gradeWord } from './words'

const job = useJob()
const entry = useEntry()
const { data: words } = useVocabulary()
const view = computed(() => job.assessment.value?.setup)
const key = (name: string) => () => `${job.id}.setup.${name}`
const max = useTyped(key('max'), () => view.value?.setup.max.value ?? '')
const d = useTyped(key('d'), () => view.value?.setup.d.value ?? '')
const unitText = useTyped(key('unit'), () => view.value?.setup.d.unit ?? 'kg')
const decimals = useTyped(key('decimals'))
const unit = computed<Unit>({ get: () => unitText.value as Unit, set: (u) => (unitText.value = u) })
const judged = ref<SetupJudgement | null>(view.value?.judgement ?? null)
const warning = ref<Failure | null>(null)
const draft = (): Draft => ({ kind: 'set_up', max: max.value, d: d.value, unit: unit.value, decimals: decimals.value })

let timer: ReturnType<typeof setTimeout> | undefined
watch([max, d, unit, decimals], () => {
  clearTimeout(timer)
  entry.failure.value = null
  timer = setTimeout(() => void judge(), 120)
}, { immediate: true })
async function judge(): Promise<void> {
  const asked = JSON.stringify(draft())
  try {
    const told = await judgeSetup(job.id, draft())
    if (asked !== JSON.stringify(draft())) return
    judged.value = told
    warning.value = null
  } catch (error) {
    if (error instanceof Failure && error.status === 422 && asked === JSON.stringify(draft())) {
      judged.value = null
      warning.value = error
    }
  }
}
function wrong(field: string): string {
  const early = warning.value?.problem
  return entry.wrong(field) || (early?.field === field ? [early.detail, early.what_to_do].filter(Boolean).join('. ') : '')
}
async function submit(): Promise<void> {
  await entry.enter(draft())
}
</script>

<template>
  <WorkFrame stage="set_up">
    <form class="stack" @submit.prevent="submit">
      <RefusalNote :failure="entry.general(['max', 'd', 'decimals'])" />
      <div class="fields">
        <div class="field">
          <label for="setup-max">Max, {{ unit }}</label>
          <InputText id="setup-max" v-model="max" class="input input-figure" inputmode="decimal" autocomplete="off" autofocus :disabled="job.frozen.value" :aria-invalid="Boolean(wrong('max'))" />
          <p :class="wrong('max') ? 'wrong' : 'hint'">{{ wrong('max') || (judged ? `keyed in as ${judged.max_digits}` : '') }}</p>
        </div>
        <div class="field">
          <label for="setup-d">Division, {{ unit }}</label>
          <InputText id="setup-d" v-model="d" class="input input-figure" inputmode="decimal" autocomplete="off" :disabled="job.frozen.value" :aria-invalid="Boolean(wrong('d'))" />
          <p :class="wrong('d') ? 'wrong' : 'hint'">{{ wrong('d') || '1, 2 or 5 times a power of ten' }}</p>
        </div>
        <div class="field narrow">
          <label for="setup-unit">Unit</label>
          <Select v-model="unit" input-id="setup-unit" label-id="setup-unit" aria-label="Unit" :options="words?.units ?? []" :disabled="job.frozen.value" />
        </div>
        <div class="field narrow">
          <label for="setup-decimals">Decimals</label>
          <InputText id="setup-decimals" v-model="decimals" inputmode="numeric" autocomplete="off" :placeholder="judged ? String(judged.setup.decimals) : ''" :disabled="job.frozen.value" :aria-invalid="Boolean(wrong('decimals'))" />
          <p :class="wrong('decimals') ? 'wrong' : 'hint'">{{ wrong('decimals') }}</p>
        </div>
      </div>
      <div v-if="judged" class="row" aria-live="polite">
        <p class="figure n">{{ judged.findings.find((f) => f.check === 'whole_n')?.says }}</p>
        <p v-if="judged.min_load" class="figure quiet">Min {{ judged.min_load.value }} {{ judged.min_load.unit }}</p>
        <p class="overall" :class="judged.overall">{{ gradeWord(judged.overall) }}</p>
      </div>
      <Button v-if="!job.frozen.value" type="submit" class="btn-next start" :disabled="entry.blocked.value">Entered on the indicator</Button>
      <section v-if="judged?.changes.length" class="note note-caution">
        <p v-for="c in judged.changes" :key="c.what">{{ c.what }}: <span class="figure">{{ c.from }} → {{ c.to }}</span><template v-if="c.voids">, which voids the calibration on record</template></p>
      </section>
      <section v-if="judged?.alternatives.length">
        <h2>Divisions for this Max</h2>
        <table>
          <thead><tr><th scope="col" class="right">Division</th><th scope="col" class="right">Divisions n</th><th scope="col">Judged</th><th><span class="sr-only">Take it</span></th></tr></thead>
          <tbody>
            <tr v-for="alt in judged.alternatives" :key="alt.d.value" :class="{ chosen: alt.d.value === judged.setup.d.value }">
              <td class="figure right">{{ alt.d.value }} {{ alt.d.unit }}</td><td class="figure right">{{ alt.n }}</td><td><span class="overall" :class="alt.grade">{{ gradeWord(alt.grade) }}</span></td>
              <td class="right"><Button v-if="!job.frozen.value" type="button" class="btn btn-bare" :aria-label="`Take ${alt.d.value} ${alt.d.unit}`" @click="d = alt.d.value; decimals = ''">Take</Button></td>
            </tr>
          </tbody>
        </table>
      </section>
    </form>
    <template #side>
      <h2>Judged</h2>
      <FindingList v-if="judged" :findings="judged.findings" />
      <p v-else class="quiet">A figure is not understood yet.</p>
    </template>
  </WorkFrame>
</template>

<style scoped>
.fields { display: grid; grid-template-columns: 1fr 1fr 6rem 6rem; gap: 1rem; align-items: start; }
.narrow :deep(.select), .narrow :deep(.input) { min-height: 3.5rem; }
.n { font-size: 1.2rem; font-weight: 650; }
.start { align-self: flex-start; }
.overall { font-weight: 700; }
.overall.sound { color: var(--shade-ink); }
.overall.caution { color: var(--caution); }
.overall.refuse { color: var(--light-ink); }
.chosen td { background: var(--shade-2); }
td .btn { min-height: 1.9rem; padding: 0 0.5rem; }
@media (max-width: 40rem) { .fields { grid-template-columns: 1fr 1fr; } }
</style>
