<script setup lang="ts">
import Button from 'primevue/button'
import { computed, nextTick, ref, watch } from 'vue'
import type { Draft, LiveView, PhaseView, Source, TestView } from '../../api/types'
import CornerDrawing from '../../drawings/CornerDrawing.vue'
import FigureField from '../../ui/FigureField.vue'
import RefusalNote from '../../ui/RefusalNote.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import WorkingList from '../../ui/WorkingList.vue'
import { plain } from '../../ui/format'
import { useTyped } from '../../state/typed'
import { useCapture } from '../useCapture'
import { useEntry } from '../useEntry'
import ArmedRun from './ArmedRun.vue'
import PieceList from './PieceList.vue'
import SeriesStrip from './SeriesStrip.vue'
import TestNow from './TestNow.vue'
import { useJob } from '../useJob'
import { useLoads } from '../useLoads'

// Corners, repeats and discrimination: one reading after the other, the next place by itself.
const props = defineProps<{ stage: 'as_found' | 'prove'; tests: TestView[]; phase: PhaseView; live: LiveView | null }>()
const job = useJob()
const entry = useEntry()
const unit = computed(() => props.phase.setup.d.unit)
const pad = ref(props.tests[0]?.pad ?? 1)
const test = computed(() => props.tests.find((t) => t.pad === pad.value) ?? (props.tests[0] as TestView))
const kind = computed(() => test.value.test)
const load = useTyped(
  () => `${job.id}.${props.stage}.${kind.value}.load`,
  () => test.value.load?.value ?? '',
)
const shown = useTyped(() => `${job.id}.${props.stage}.${kind.value}.shown`)
const before = useTyped(() => `${job.id}.${props.stage}.before`)
const after = useTyped(() => `${job.id}.${props.stage}.after`)
const picked = ref<number | null>(null)
const overruled = useTyped(() => `${job.id}.overruled`)
// The list of loads has the pieces of each test; they go on the record while its load stands in the field.
const loads = useLoads(() => props.stage)
const purpose = computed(() => (kind.value === 'zero_return' ? 'load' : kind.value))
const listed = computed(() =>
  loads.list.value.find((l) => l.purpose === purpose.value && l.pad === pad.value && l.status !== 'done'),
)
const made = computed(() => (listed.value?.load.value === plain(load.value) ? listed.value.pieces : []))
watch(
  () => listed.value?.load.value,
  (now, before) => {
    const untouched = load.value === (before ?? test.value.load?.value ?? '')
    if (now && untouched && kind.value !== 'discrimination') load.value = now
  },
  { immediate: true },
)
const position = computed(() => picked.value ?? test.value.positions.find((s) => !s.shown_text)?.position ?? 0)
const place = computed(() => test.value.positions.find((s) => s.position === position.value)?.place ?? null)
const takesLive = computed(() => shown.value.trim() === '' && props.live !== null)
const open = ref(false)
watch(
  kind,
  async () => {
    entry.failure.value = null
    picked.value = null
    await nextTick()
    document.getElementById(kind.value === 'discrimination' ? 'test-load' : 'test-shown')?.focus()
  },
  { immediate: true },
)

function draft(): Draft {
  if (kind.value === 'discrimination')
    return {
      kind: 'discriminated',
      stage: props.stage,
      load: load.value,
      before: before.value,
      after: after.value,
      pad: pad.value,
    }
  const source: Source = takesLive.value ? { from: 'live' } : { from: 'typed', text: shown.value, steady: true }
  const corner = kind.value === 'eccentricity'
  return {
    kind: 'read',
    stage: props.stage,
    load: load.value,
    shown: source,
    direction: 'up',
    pad: pad.value,
    with: made.value.map((p) => p.id),
    overruled: overruled.value,
    purpose: corner ? 'corner' : 'repeat',
    position: corner ? position.value : null,
    added: '',
    substituted: '',
  }
}
// Enter goes to the next field that is still empty: nothing but the number pad is needed.
function emptyField(): HTMLElement | null {
  const wanted: [string, string][] =
    kind.value === 'discrimination'
      ? [
          ['test-load', load.value],
          ['test-before', before.value],
          ['test-after', after.value],
        ]
      : [['test-load', load.value]]
  const id = wanted.find(([, text]) => !text.trim())?.[0]
  return id ? document.getElementById(id) : null
}
const { armed, isNear } = useCapture(job.id, {
  live: () => (kind.value === 'discrimination' ? null : props.live),
  load: () => load.value,
  d: () => props.phase.setup.d,
  held: () => entry.blocked.value || loads.planning.value || !listed.value || Boolean(shown.value.trim()),
  take: async () => {
    if (!(await entry.enter(draft()))) return false
    await cleared()
    return true
  },
})
async function submit(): Promise<void> {
  const empty = emptyField()
  if (empty) return empty.focus()
  if (await entry.enter(draft())) await cleared()
}
async function cleared(): Promise<void> {
  shown.value = ''
  before.value = ''
  after.value = ''
  if (kind.value === 'discrimination') load.value = ''
  picked.value = null
  await nextTick()
  document.getElementById(kind.value === 'discrimination' ? 'test-load' : 'test-shown')?.focus()
}
</script>

<template>
  <form class="test" @submit.prevent="submit">
    <CornerDrawing
      v-if="kind === 'eccentricity'"
      :positions="test.positions"
      :chosen="position"
      @choose="picked = $event"
    />
    <div class="stack tight grow">
      <p class="quiet small">
        <label v-if="tests.length > 1"
          >{{ $t('reading-form-pad') }}
          <select v-model="pad" class="input pick" :aria-label="$t('test-form-pad-of-the-test')">
            <option v-for="t in tests" :key="t.pad" :value="t.pad">{{ t.pad }}</option>
          </select></label
        >
        {{ test.how }}
      </p>
      <RefusalNote :failure="entry.general(['load', 'shown', 'before', 'after', 'position'])" />
      <TestNow :test="test" :place="picked === null && test.done >= test.wanted ? null : place" />
      <div class="fields">
        <FigureField
          id="test-load"
          v-model="load"
          :label="$t('common-load-unit', { unit })"
          :wrong="entry.wrong('load')"
        />
        <template v-if="kind === 'discrimination'">
          <FigureField
            id="test-before"
            v-model="before"
            :label="$t('test-form-shown-before-unit', { unit })"
            :wrong="entry.wrong('before')"
          />
          <FigureField
            id="test-after"
            v-model="after"
            :label="$t('test-form-shown-after-unit', { unit })"
            :wrong="entry.wrong('after')"
          />
        </template>
        <FigureField
          v-else
          id="test-shown"
          v-model="shown"
          :label="$t('common-shown-unit', { unit })"
          :placeholder="live ? $t('reading-form-live') : ''"
          :wrong="entry.wrong('shown')"
          :hint="live ? $t('reading-form-empty-taken-from-the-indicator') : ''"
        />
        <Button type="submit" :class="listed ? 'btn-next' : 'tall'" :disabled="entry.blocked.value">{{
          takesLive && kind !== 'discrimination' ? $t('test-form-take-it') : $t('common-enter')
        }}</Button>
      </div>
      <ArmedRun
        v-if="live && kind !== 'discrimination'"
        v-model="armed"
        :near="isNear"
        :load="kind === 'eccentricity' ? `${load} ${unit}, ${place}` : load"
        :unit="kind === 'eccentricity' ? '' : unit"
      />
      <PieceList v-if="made.length" :label="$t('test-form-made-of')" :pieces="made" fixed />
      <SeriesStrip v-if="test.series.length" :series="test.series" />
      <p class="row tight" role="status">
        <VerdictMark v-if="test.within !== null" :verdict="test.within ? 'within' : 'outside'" /><span
          data-testid="test-says"
          >{{ test.says }}</span
        ><button
          v-if="test.working.length"
          type="button"
          class="btn btn-bare"
          :aria-expanded="open"
          @click="open = !open"
        >
          {{ $t('reading-table-working-2') }}
        </button>
      </p>
      <WorkingList v-if="open && test.working.length" :workings="test.working" />
    </div>
  </form>
</template>

<style scoped>
.test {
  display: flex;
  gap: 1.2rem;
  flex-wrap: wrap;
  align-items: flex-start;
}
.test > svg {
  flex: 1 1 18rem;
}
.grow {
  flex: 2 1 20rem;
}
.pick {
  width: auto;
  display: inline-block;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(7.4rem, 1fr));
  gap: 0.8rem;
  align-items: start;
}
.fields .btn {
  margin-top: 1.55rem;
}
</style>
