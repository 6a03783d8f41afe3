<script setup lang="ts">
import { say } from '../../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { Failure } from '../../api/client'
import type { Draft, ListedLoad, LiveView, PhaseView, ReadingView, Source, Way } from '../../api/types'
import RefusalNote from '../../ui/RefusalNote.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import { useTyped } from '../../state/typed'
import { useCapture } from '../useCapture'
import { useEntry } from '../useEntry'
import ArmedRun from './ArmedRun.vue'
import NoFigureForm from './NoFigureForm.vue'
import PieceList from './PieceList.vue'
import PiecesOn from './PiecesOn.vue'
import { useJob } from '../useJob'
import { useLoads } from '../useLoads'

// Load and reading, typed or taken from the indicator; what would come of it shows as one types. The
// load, its direction, pad and pieces are those of the one list of loads.
const props = defineProps<{ stage: 'as_found' | 'prove'; phase: PhaseView; live: LiveView | null }>()
const job = useJob()
const entry = useEntry()
const loads = useLoads(() => props.stage)
const item = computed(() => (loads.next.value?.purpose === 'load' ? loads.next.value : null))
const isNext = computed(
  () =>
    job.assessment.value?.next.stage === props.stage &&
    job.assessment.value.next.act === 'read' &&
    !loads.planning.value,
)
const unit = computed(() => props.phase.setup.d.unit)
const steps = computed(() => {
  const { d, fine } = props.phase.setup
  return fine
    ? say('reading-form-in-steps-of-d-unit-2', {
        d: fine.d.value,
        unit: unit.value,
        max: fine.max.value,
        unit2: unit.value,
        d2: d.value,
        unit3: unit.value,
      })
    : say('reading-form-in-steps-of-d-unit', { d: d.value, unit: unit.value })
})
const suggested = () => item.value?.load.value ?? ''
const load = useTyped(() => `${job.id}.${props.stage}.load`, suggested)
const shown = useTyped(() => `${job.id}.${props.stage}.shown`)
const way = ref<Way>(item.value?.way ?? 'up')
const pad = ref(item.value?.pad ?? 1)
const pads = computed(() => job.assessment.value?.sheet.pads ?? 1)
const preview = ref<ReadingView | null>(null)
const warning = ref<Failure | null>(null)

// A suggestion that comes late never takes the place of what somebody typed or pressed; the direction
// and the pad follow only when another reading is asked for.
const asks = (w: typeof item.value) => (w ? `${w.load.value}|${w.way}|${w.pad}` : '')
let offered = suggested()
watch([item, loads.planning], ([now, planning], [before]) => {
  const untouched = load.value === '' || load.value === offered
  // While it is worked out there is nothing in the field that could be booked.
  offered = planning ? '' : suggested()
  if (untouched) load.value = offered
  if (planning || !now || asks(now) === asks(before ?? null)) return
  way.value = now.way
  pad.value = now.pad
  byHand.value = null
})

// The pieces go on the record: those of the list while its load stands in the field, those that were
// named by hand otherwise.
type Piece = ListedLoad['pieces'][number]
const overruled = useTyped(() => `${job.id}.overruled`)
const amount = (text: string) => text.trim().replace(',', '.')
const byHand = ref<Piece[] | null>(null)
const ofList = computed<ListedLoad | null>(() => {
  const fits = (l: ListedLoad) => l.purpose === 'load' && l.load.value === amount(load.value) && l.pad === pad.value
  if (item.value && fits(item.value)) return item.value
  return loads.list.value.find((l) => fits(l) && l.pieces.length) ?? null
})
const pieces = computed<Piece[]>({
  get: () => byHand.value ?? ofList.value?.pieces ?? [],
  set: (named) => (byHand.value = named),
})
const moves = computed(() => (byHand.value === null && ofList.value === item.value ? item.value : null))
/** Pieces that are named by hand say what the load is. */
function summed(): void {
  load.value = ''
}
const unfit = computed(() => Boolean(wrong('overruled')) || overruled.value !== '')

const takesLive = computed(() => shown.value.trim() === '' && props.live !== null)
function draft(): Draft {
  const source: Source = takesLive.value ? { from: 'live' } : { from: 'typed', text: shown.value, steady: true }
  return {
    kind: 'read',
    stage: props.stage,
    load: load.value,
    shown: source,
    way: way.value,
    pad: pads.value > 1 ? pad.value : null,
    with: pieces.value.map((p) => p.id),
    once: !again.value,
    overruled: overruled.value,
    added: small.value ? added.value : '',
    purpose: 'load',
    spot: null,
    substituted: rounds.value,
  }
}

// Changeover points: small weights until the display goes to the next division.
const small = ref(false)
const added = useTyped(() => `${job.id}.${props.stage}.added`)
const tenth = computed(() => `${props.phase.small_step.value} ${props.phase.small_step.unit}`)
// A load that the weights reach only by being replaced with material in between.
const rounds = useTyped(() => `${job.id}.${props.stage}.rounds`)

let timer: ReturnType<typeof setTimeout> | undefined
const again = ref(false)
watch([load, way, pad], () => (again.value = false))
// What is previewed always belongs to what stands in the form.
const inForm = () => JSON.stringify(draft())
watch([load, shown, way, pad, pieces, overruled, added, small, rounds], () => {
  clearTimeout(timer)
  preview.value = null
  warning.value = null
  entry.failure.value = null
  if (!hasLoad() || !shown.value.trim()) return
  timer = setTimeout(() => void look(), 140)
})
const hasLoad = () => load.value.trim() !== '' || (byHand.value?.length ?? 0) > 0
async function look(): Promise<void> {
  const asked = inForm()
  try {
    const { assessment } = await job.tryOut(draft())
    const readings = props.stage === 'as_found' ? assessment.as_found.readings : assessment.proof.readings
    if (asked === inForm()) preview.value = readings.at(-1) ?? null
  } catch (error) {
    if (error instanceof Failure && error.status === 422 && asked === inForm()) warning.value = error
  }
}

function wrong(field: string): string {
  return entry.wrong(field) || (warning.value?.at(field) ?? '')
}

// While the next load is worked out there is nothing to book.
const idle = computed(() => loads.planning.value && !hasLoad())
async function submit(): Promise<void> {
  if (!hasLoad()) {
    if (!loads.planning.value) document.getElementById('reading-load')?.focus()
    return
  }
  if (shown.value.trim() === '' && props.live === null) {
    document.getElementById('reading-shown')?.focus()
    return
  }
  if (!(await entry.enter(draft()))) {
    // The second Enter keeps both, and it was said.
    again.value = entry.failure.value?.code === 'read_before'
    return
  }
  cleared()
  await nextTick()
  document.getElementById('reading-shown')?.focus()
}
function cleared(): void {
  shown.value = ''
  added.value = ''
  rounds.value = ''
  overruled.value = ''
  again.value = false
  byHand.value = null
  offered = suggested()
  load.value = offered
}
// A load that is being typed is not yet the load that is asked for.
const typing = ref(false)
const { armed, isNear } = useCapture(job.id, {
  live: () => props.live,
  load: () => load.value,
  d: () => props.phase.setup.d.value,
  held: () => typing.value || entry.blocked.value || idle.value || Boolean(shown.value.trim()),
  take: async () => {
    if (!(await entry.enter(draft()))) return false
    cleared()
    return true
  },
})

// On the number pad the next figure is typed without reaching for anything.
onMounted(() => document.getElementById('reading-shown')?.focus())

function turn(event: KeyboardEvent): void {
  if (event.key !== '*') return
  event.preventDefault()
  way.value = way.value === 'up' ? 'down' : 'up'
}
</script>

<template>
  <form class="stack tight" @submit.prevent="submit" @keydown="turn">
    <RefusalNote :failure="entry.general(['load', 'shown', 'overruled', 'added', 'substituted'])" />
    <div class="fields">
      <div class="field">
        <label for="reading-load">{{ $t('common-load-unit', { unit }) }}</label>
        <InputText
          id="reading-load"
          v-model="load"
          class="input input-figure"
          inputmode="decimal"
          autocomplete="off"
          :aria-invalid="Boolean(wrong('load'))"
          aria-describedby="load-hint"
          @focus="typing = true"
          @blur="typing = false"
        />
        <p id="load-hint" :class="wrong('load') ? 'wrong' : 'hint'">
          {{
            wrong('load') ||
            (loads.planning.value
              ? $t('reading-form-working-out-the-next-load')
              : byHand?.length
                ? $t('reading-form-empty-what-the-pieces-come')
                : item?.why || $t('reading-form-another-load'))
          }}
        </p>
      </div>
      <div class="field">
        <label for="reading-shown">{{ $t('common-shown-unit', { unit }) }}</label>
        <InputText
          id="reading-shown"
          v-model="shown"
          class="input input-figure"
          inputmode="decimal"
          autocomplete="off"
          autofocus
          :placeholder="live ? $t('reading-form-live') : ''"
          :aria-invalid="Boolean(wrong('shown'))"
          aria-describedby="shown-hint"
        />
        <p id="shown-hint" :class="wrong('shown') ? 'wrong' : 'hint'">
          {{ wrong('shown') || (live ? $t('reading-form-empty-taken-from-the-indicator') : steps) }}
        </p>
      </div>
      <div class="doing">
        <div class="field">
          <span id="way-label" class="label"
            >{{ $t('reading-form-direction') }}
            <span class="quiet plain">(<span class="figure">*</span> {{ $t('reading-form-turns-it') }}</span
            ><template v-if="pads > 1">
              ·
              <label
                >{{ $t('reading-form-pad') }}
                <select v-model="pad" class="pad" :aria-label="$t('found-setup-pad')">
                  <option v-for="n in pads" :key="n" :value="n">{{ n }}</option>
                  <option :value="0">{{ $t('reading-form-all-together') }}</option>
                </select></label
              ></template
            ></span
          >
          <div class="way" role="group" aria-labelledby="way-label">
            <Button type="button" :aria-pressed="way === 'up'" @click="way = 'up'">{{
              $t('reading-form-increasing')
            }}</Button>
            <Button type="button" :aria-pressed="way === 'down'" @click="way = 'down'">{{
              $t('reading-form-decreasing')
            }}</Button>
            <Button
              type="submit"
              class="go"
              :class="isNext ? 'btn-next' : 'tall'"
              :disabled="entry.blocked.value || idle"
              >{{ takesLive ? $t('reading-form-take-the-reading') : $t('common-enter') }}</Button
            >
          </div>
        </div>
        <p v-if="preview" class="outcome" aria-live="polite" data-testid="preview">
          <span class="figure big">{{ preview.error_text }}</span><span class="figure quiet small">{{
            preview.error_d
          }}</span>
          <span class="figure quiet small">{{ preview.mpe_text }}</span><VerdictMark
            :verdict="preview.within ? 'within' : 'outside'"
          />
        </p>
      </div>
    </div>
    <div class="row smalls">
      <label v-if="stage === 'prove'" class="named push-right"
        ><span>{{ $t('reading-form-substitutions') }}</span
        ><InputText
          id="reading-rounds"
          v-model="rounds"
          class="input figure rounds"
          inputmode="numeric"
          autocomplete="off"
          placeholder="0"
          :aria-invalid="Boolean(wrong('substituted'))"
        /><span v-if="wrong('substituted')" class="wrong">{{ wrong('substituted') }}</span></label
      ><label class="named"
        ><input v-model="small" type="checkbox" data-testid="changeover" /><span>{{
          $t('reading-form-small-weights-for-the-point')
        }}</span></label
      >
      <template v-if="small"
        ><label for="reading-added">{{ $t('reading-form-added-until-it-changed-unit', { unit }) }}</label
        ><InputText
          id="reading-added"
          v-model="added"
          class="input figure added"
          inputmode="decimal"
          autocomplete="off"
          :aria-invalid="Boolean(wrong('added'))"
        /><span :class="wrong('added') ? 'wrong' : 'small quiet'">{{
          wrong('added') || $t('reading-form-add-tenth-at-a-time', { tenth })
        }}</span></template
      >
    </div>
    <PiecesOn
      v-if="amount(load) !== '0'"
      v-model="pieces"
      :put="moves?.put ?? []"
      :take="moves?.take ?? []"
      :unit="unit"
      @changed="summed"
    />
    <PieceList v-else-if="moves?.take.length" :label="$t('common-take-off')" :pieces="moves.take" fixed />
    <div v-if="unfit" class="field">
      <label for="overruled">{{ $t('reading-form-these-weights-are-not-fit') }}</label><InputText
        id="overruled"
        v-model="overruled"
        class="input"
        :aria-invalid="Boolean(wrong('overruled'))"
      />
      <p v-if="wrong('overruled')" class="wrong" role="alert">{{ wrong('overruled') }}</p>
    </div>
    <ArmedRun v-if="live" v-model="armed" :near="isNear" :load="load" :unit="unit" />
    <p v-for="caution in preview?.cautions" :key="String(caution)" class="note note-caution">{{ caution }}</p>
  </form>
  <NoFigureForm :stage="stage" :unit="unit" :load="load" :way="way" :pad="pads > 1 ? pad : null" @entered="cleared" />
</template>

<style scoped>
.named {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  color: var(--ink-2);
}
.named input {
  width: 1.2rem;
  height: 1.2rem;
  accent-color: var(--ink);
  flex: none;
}
.smalls {
  gap: 0.4rem 0.8rem;
}
.added {
  width: 7rem;
}
.push-right {
  order: 9;
  margin-left: auto;
}
.rounds {
  width: 3.5rem;
  min-width: 3.5rem;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 1rem;
  align-items: start;
}
.way {
  display: flex;
}
.way .btn {
  min-height: 3.5rem;
}
.way .btn + .btn:not(.go) {
  border-left: none;
}
.way .go {
  margin-left: 1rem;
  min-width: 11.5rem;
}
.plain {
  font-weight: 400;
}
.pad {
  font: inherit;
  background: var(--sheet);
  color: var(--ink);
  border: 1.5px solid var(--ink-2);
  border-radius: 3px;
  min-height: 1.8rem;
}
.outcome {
  display: flex;
  gap: 0.7rem;
  align-items: baseline;
  white-space: nowrap;
}
@media (max-width: 40rem) {
  .fields {
    grid-template-columns: 1fr 1fr;
  }
  .doing {
    grid-column: 1 / -1;
  }
}
.big {
  font-size: 1.35rem;
  font-weight: 600;
}
</style>
