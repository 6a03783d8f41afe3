<script setup lang="ts">
import { figure } from '../../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { Failure } from '../../api/client'
import { judgeSetup } from '../../offline/rules'
import { askKeying } from '../../api/profiles'
import { useScale } from '../../api/scales'
import type { KeyingReply, SetupJudgement } from '../../api/types'
import SignalDrawing from '../../drawings/SignalBar.vue'
import RefusalNote from '../../ui/RefusalNote.vue'
import { useTyped } from '../../state/typed'
import AlternativeTable from './AlternativeTable.vue'
import CannotList from '../../keying/CannotList.vue'
import CounterForm from '../CounterForm.vue'
import FindingList from './FindingList.vue'
import KeyStrip from './KeyStrip.vue'
import SetupFields from './SetupFields.vue'
import WorkFrame from '../WorkFrame.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'
import { useSetup } from '../useSetup'
import { gradeWord } from '../../ui/format'

const job = useJob()
const entry = useEntry()
const setup = useSetup(job)
const sheet = computed(() => job.assessment.value?.sheet)
// A profile that was taught on this visit counts at once.
const { data: scale } = useScale(() => sheet.value?.id)
const profile = computed(() => sheet.value?.profile ?? scale.value?.sheet.profile)
const judged = ref<SetupJudgement | null>(job.assessment.value?.setup.judgement ?? null)
const keyed = ref<KeyingReply | null>(null)
const warning = ref<Failure | null>(null)
const keying = useTyped(() => `${job.id}.keying`)
const because = useTyped(() => `${job.id}.setup.because`)
const asks = computed(() => entry.failure.value?.code === 'would_void')
// One action is next: where the work is elsewhere, nothing here is.
const isNext = computed(
  () => job.assessment.value?.next.stage === 'set_up' || job.assessment.value?.next.act === 'choose',
)
const text = computed(() => JSON.stringify(setup.draft.value))
watch(profile, () => void judge())

let timer: ReturnType<typeof setTimeout> | undefined
watch(
  text,
  () => {
    clearTimeout(timer)
    entry.failure.value = null
    timer = setTimeout(() => void judge(), 60)
  },
  { immediate: true },
)
async function judge(): Promise<void> {
  const asked = text.value
  try {
    const told = await judgeSetup(job.id, job.assessment.value?.entries.at(-1)?.seq ?? 0, setup.draft.value)
    if (asked !== text.value) return
    judged.value = told
    warning.value = null
    if (profile.value) keyed.value = await askKeying(job.id, setup.draft.value, [])
  } catch (error) {
    if (error instanceof Failure && error.status === 422 && asked === text.value) {
      judged.value = null
      keyed.value = null
      warning.value = error
    }
  }
}
function wrong(field: string): string {
  return entry.wrong(field) || (warning.value?.at(field) ?? '')
}
async function submit(agreed = false): Promise<void> {
  if (await entry.enter({ kind: 'set_up', ...setup.draft.value, agreed, because: because.value })) {
    keying.value = ''
    because.value = ''
  }
}
// Where the set-up is refused the way out comes first: the division nearest to the one that was wanted
// among those that are sound.
const wayOut = computed(() => {
  if (judged.value?.overall !== 'refuse') return null
  const fits = judged.value.alternatives.filter((a) => a.grade !== 'refuse')
  return fits.find((a) => a.grade === 'sound') ?? fits[0] ?? null
})
function take(d: string): void {
  setup.fields.d.value = d
  setup.fields.decimals.value = ''
}
</script>

<template>
  <WorkFrame stage="set_up">
    <form class="stack tight" @submit.prevent="wayOut ? take(wayOut.d.value) : submit()">
      <RefusalNote :failure="entry.general(['max', 'd', 'decimals', 'fine_max', 'fine_d', 'gravity', 'agreed'])" />
      <SetupFields :setup="setup" :judged="judged" :wrong="wrong" :frozen="job.frozen.value" :sheet="sheet" />
      <div v-if="judged" class="row" aria-live="polite">
        <p class="figure n">{{ judged.findings.find((f) => f.check === 'whole_n')?.says }}</p>
        <p v-if="judged.min_load" class="figure quiet">
          {{ $t('setup-min-min-load-unit', { min_load: judged.min_load.value, unit: judged.min_load.unit }) }}
        </p>
        <p class="overall" :class="judged.overall">{{ gradeWord(judged.overall) }}</p>
      </div>
      <div v-if="asks" class="note note-caution" role="alert">
        <p>{{ entry.failure.value?.message }}</p>
        <div class="row">
          <Button type="button" @click="submit(true)">{{ $t('setup-change-it-all-the-same') }}</Button><Button
            type="button"
            @click="entry.failure.value = null"
            >{{ $t('common-leave-it') }}</Button
          >
        </div>
      </div>
      <div v-else-if="!job.frozen.value && !keying" class="row">
        <Button v-if="wayOut" type="submit" :class="isNext ? 'btn-next' : 'tall'" @click="take(wayOut.d.value)">{{
          $t('setup-take-d-unit-n-divisions', { d: figure(wayOut.d.value), unit: wayOut.d.unit, n: wayOut.n })
        }}</Button>
        <Button
          v-if="keyed?.sheet && judged?.overall !== 'refuse'"
          type="button"
          :class="isNext ? 'btn-next' : 'tall'"
          @click="keying = 'on'"
          >{{ $t('setup-key-it-in') }}</Button
        >
        <Button
          v-if="judged?.overall !== 'refuse'"
          type="submit"
          :class="keyed?.sheet || !isNext ? 'tall' : 'btn-next'"
          :disabled="entry.blocked.value"
          >{{ $t('setup-entered-on-the-indicator') }}</Button
        >
        <RouterLink
          v-if="sheet && scale && !profile"
          class="btn btn-bare"
          :to="{ name: 'teach', query: { scale: sheet.id, job: job.id, name: sheet.indicator } }"
          >{{ $t('setup-teach-this-indicator') }}</RouterLink
        >
        <RouterLink v-if="keyed?.sheet" class="btn btn-bare" :to="{ name: 'keying', params: { job: job.id } }">{{
          $t('setup-print-the-keying-sheet')
        }}</RouterLink>
      </div>
      <details v-if="judged?.overall === 'refuse' && !asks && !job.frozen.value" class="all-the-same">
        <summary>{{ $t('setup-enter-it-all-the-same') }}</summary>
        <div class="row end">
          <div class="field grow">
            <label for="setup-because">{{ $t('setup-why-it-stays-on-the') }}</label><InputText
              id="setup-because"
              v-model="because"
              :aria-invalid="Boolean(entry.wrong('because'))"
            />
            <p v-if="entry.wrong('because')" class="wrong" role="alert">{{ entry.wrong('because') }}</p>
          </div>
          <Button type="button" :disabled="entry.blocked.value" @click="submit()">{{
            $t('setup-enter-it-all-the-same-2')
          }}</Button>
        </div>
      </details>
    </form>
    <CannotList v-if="keyed?.cannot.length" :cannot="keyed.cannot" />
    <KeyStrip
      v-if="keying && keyed?.sheet && !job.frozen.value"
      :sheet="keyed.sheet"
      :phases="['way_in', 'set_up']"
      :store="`${job.id}.setup.strip`"
      @done="submit()"
    >
      <Button type="button" class="btn-bare" @click="keying = ''">{{ $t('setup-not-now') }}</Button>
    </KeyStrip>
    <template v-else>
      <section v-if="judged?.changes.length" class="note note-caution changes">
        <p v-for="c in judged.changes" :key="String(c.what)">
          {{ c.what }}: <span class="figure">{{ c.from }} → {{ c.to }}</span
          ><template v-if="c.voids">{{ $t('setup-which-voids-the-calibration-on') }}</template>
        </p>
      </section>
      <div class="below">
        <AlternativeTable
          v-if="judged?.alternatives.length"
          :alternatives="judged.alternatives"
          :chosen="judged.setup.d.value"
          :frozen="job.frozen.value"
          @take="take"
        />
        <section v-if="judged?.signal">
          <h2>{{ $t('setup-signal-of-the-cells') }}</h2>
          <SignalDrawing :bar="judged.signal" />
        </section>
      </div>
    </template>
    <template #side>
      <h2>{{ $t('alternative-table-judged') }}</h2>
      <FindingList v-if="judged" :findings="judged.findings" />
      <p v-else class="quiet">{{ $t('calculators-a-figure-is-not-understood') }}</p>
      <CounterForm v-if="!job.frozen.value" />
    </template>
  </WorkFrame>
</template>

<style scoped>
.n {
  font-size: 1.2rem;
  font-weight: 650;
}
.overall {
  font-weight: 700;
}
.overall.sound {
  color: var(--shade-ink);
}
.overall.caution {
  color: var(--caution);
}
.overall.refuse {
  color: var(--light-ink);
}
.end {
  align-items: end;
}
.grow {
  flex: 1;
}
.all-the-same summary {
  cursor: pointer;
  min-height: var(--target);
}
.tall {
  min-height: 3.5rem;
}
.below {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 1.5rem;
  align-items: start;
}
.below section:only-child {
  grid-column: 1 / -1;
}
@media (max-width: 50rem) {
  .below {
    grid-template-columns: 1fr;
  }
}
</style>
