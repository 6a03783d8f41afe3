<script setup lang="ts">
import Button from 'primevue/button'
import { computed, nextTick, onMounted, ref } from 'vue'
import type { LiveView, PhaseView } from '../../api/types'
import FigureField from '../../ui/FigureField.vue'
import RefusalNote from '../../ui/RefusalNote.vue'
import TextField from '../../ui/TextField.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import { plain } from '../../ui/format'
import { say, figure } from '../../words'
import { useCapture } from '../useCapture'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'
import { useLoads } from '../useLoads'
import ArmedRun from './ArmedRun.vue'
import DirectionChoice from './DirectionChoice.vue'
import NoFigureForm from './NoFigureForm.vue'
import PieceList from './PieceList.vue'
import PiecesOn from './PiecesOn.vue'
import SmallWeights from './SmallWeights.vue'
import { usePreview } from './usePreview'
import { useReading } from './useReading'

// Load and reading, typed or taken from the indicator; what would come of it shows as one types.
const props = defineProps<{ stage: 'as_found' | 'prove'; phase: PhaseView; live: LiveView | null }>()
const job = useJob()
const entry = useEntry()
const loads = useLoads(() => props.stage)
const reading = useReading(job, loads, { stage: () => props.stage, live: () => props.live })
const { load, shown, direction, pad, pads, pieces, overruled, small, added, rounds, takesLive } = reading
const { preview, warning } = usePreview(job, {
  stage: () => props.stage,
  draft: reading.draft,
  inForm: reading.inForm,
  complete: () => reading.hasLoad() && shown.value.trim() !== '',
  changed: () => (entry.failure.value = null),
})
const isNext = computed(() => loads.active.value && !loads.planning.value)
const unit = computed(() => props.phase.setup.d.unit)
const tenth = computed(() => `${props.phase.small_step.value} ${props.phase.small_step.unit}`)
const wrong = (field: string): string => entry.wrong(field) || (warning.value?.at(field) ?? '')
const unfit = computed(() => Boolean(wrong('overruled')) || overruled.value !== '')
const steps = computed(() => {
  const { d, fine } = props.phase.setup
  if (!fine) return say('reading-form-in-steps-of-d-unit', { d: d.value, unit: unit.value })
  const [first, max] = [fine.d.value, fine.max.value]
  const units = { unit: unit.value, unit2: unit.value, unit3: unit.value }
  return say('reading-form-in-steps-of-d-unit-2', { d: first, max, d2: d.value, ...units })
})
const loadHint = computed(() => {
  if (loads.planning.value) return say('reading-form-working-out-the-next-load')
  if (reading.byHand.value?.length) return say('reading-form-empty-what-the-pieces-come')
  return String(reading.asked.value?.why || say('reading-form-another-load'))
})

const focus = (id: string) => document.getElementById(id)?.focus()
// On the number pad the next figure is typed without reaching for anything.
onMounted(() => focus('reading-shown'))

// While the next load is worked out there is nothing to book.
const idle = computed(() => loads.planning.value && !reading.hasLoad())
async function submit(): Promise<void> {
  if (!reading.hasLoad()) {
    if (!loads.planning.value) focus('reading-load')
    return
  }
  if (shown.value.trim() === '' && props.live === null) return focus('reading-shown')
  if (!(await entry.enter(reading.draft()))) {
    // The second Enter keeps both, and it was said.
    reading.again.value = entry.failure.value?.code === 'read_before'
    return
  }
  reading.clear()
  await nextTick()
  focus('reading-shown')
}
// A load that is being typed is not yet the load that is asked for.
const typing = ref(false)
const { armed, isNear } = useCapture(job.id, {
  live: () => props.live,
  load: () => load.value,
  d: () => props.phase.setup.d,
  held: () => typing.value || entry.blocked.value || idle.value || Boolean(shown.value.trim()),
  take: async () => {
    if (!(await entry.enter(reading.draft()))) return false
    reading.clear()
    return true
  },
})
</script>

<template>
  <form class="stack tight" @submit.prevent="submit">
    <RefusalNote :failure="entry.general(['load', 'shown', 'overruled', 'added', 'substituted'])" />
    <div class="fields">
      <FigureField
        id="reading-load"
        v-model="load"
        :label="$t('common-load-unit', { unit })"
        :wrong="wrong('load')"
        :hint="loadHint"
        @focus="typing = true"
        @blur="typing = false"
      />
      <FigureField
        id="reading-shown"
        v-model="shown"
        autofocus
        :label="$t('common-shown-unit', { unit })"
        :placeholder="live ? $t('reading-form-live') : ''"
        :wrong="wrong('shown')"
        :hint="live ? $t('reading-form-empty-taken-from-the-indicator') : steps"
      />
      <div class="doing">
        <DirectionChoice v-model:direction="direction" v-model:pad="pad" :pads="pads">
          <Button
            type="submit"
            class="go"
            :class="isNext ? 'btn-next' : 'tall'"
            :disabled="entry.blocked.value || idle"
            >{{ takesLive ? $t('reading-form-take-the-reading') : $t('common-enter') }}</Button
          >
        </DirectionChoice>
        <p v-if="preview" class="outcome" aria-live="polite" data-testid="preview">
          <span class="figure big">{{ figure(preview.error_text) }}</span><span class="figure quiet small">{{
            figure(preview.error_d)
          }}</span>
          <span class="figure quiet small">{{ figure(preview.mpe_text) }}</span><VerdictMark
            :verdict="preview.within ? 'within' : 'outside'"
          />
        </p>
      </div>
    </div>
    <SmallWeights
      v-model:small="small"
      v-model:added="added"
      v-model:rounds="rounds"
      :substitutes="stage === 'prove'"
      :unit="unit"
      :tenth="tenth"
      :wrong="wrong"
    />
    <PiecesOn
      v-if="plain(load) !== '0'"
      v-model="pieces"
      :put="reading.moves.value?.put ?? []"
      :take="reading.moves.value?.take ?? []"
      :unit="unit"
      @changed="load = ''"
    />
    <PieceList
      v-else-if="reading.moves.value?.take.length"
      :label="$t('common-take-off')"
      :pieces="reading.moves.value.take"
      fixed
    />
    <TextField
      v-if="unfit"
      id="overruled"
      v-model="overruled"
      :label="$t('reading-form-these-weights-are-not-fit')"
      :wrong="wrong('overruled')"
    />
    <ArmedRun v-if="live" v-model="armed" :near="isNear" :load="load" :unit="unit" />
    <p v-for="caution in preview?.cautions" :key="String(caution)" class="note note-caution">{{ caution }}</p>
  </form>
  <NoFigureForm
    :stage="stage"
    :unit="unit"
    :load="load"
    :direction="direction"
    :pad="pads > 1 ? pad : null"
    @entered="reading.clear()"
  />
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 1rem;
  align-items: start;
}
.outcome {
  display: flex;
  gap: 0.7rem;
  align-items: baseline;
  white-space: nowrap;
}
/* Where the card is narrow the fields have a line of their own. */
@media (max-width: 40rem), (min-width: 56.01rem) and (max-width: 70rem) {
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
