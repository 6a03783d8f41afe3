<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import type { Draft, LiveView, Source } from '../../api/types'
import RefusalNote from '../../ui/RefusalNote.vue'
import SideSheet from '../../ui/SideSheet.vue'
import WorkingList from '../../ui/WorkingList.vue'
import { useTyped } from '../../state/typed'
import CaptureForm from './CaptureForm.vue'
import LivePanel from '../LivePanel.vue'
import OtherWays from './OtherWays.vue'
import PointForm from './PointForm.vue'
import SimulatedControls from '../../practice/SimulatedControls.vue'
import KeySteps from './KeySteps.vue'
import SpanChoice from './SpanChoice.vue'
import SpanSteps from './SpanSteps.vue'
import WorkFrame from '../WorkFrame.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

defineProps<{ live: LiveView | null; practice: boolean }>()
const job = useJob()
const entry = useEntry()
const a = computed(() => job.assessment.value)
const view = computed(() => a.value?.adjust)
const unit = computed(() => a.value?.setup.setup.calibrated_in ?? a.value?.setup.setup.d.unit ?? '')
const abandon = useTyped(() => `${job.id}.abandon`)
const again = ref(false)
const thought = ref('')
watch(
  () => view.value?.saved,
  () => (again.value = false),
)

type Step = 'zero' | 'weight' | 'span' | 'save' | 'done'
const step = computed<Step>(() => {
  const v = view.value
  if (!v || (v.saved && !again.value) || (v.left_alone && !again.value)) return 'done'
  if (v.saved || !v.zero) return 'zero'
  if (!v.weight) return 'weight'
  if (rechoose.value && !v.span) return 'weight'
  return v.span ? 'save' : 'span'
})
const under = computed(() => Boolean(view.value && !view.value.saved && (view.value.zero || view.value.weight)))

async function capture(kind: 'zero_captured' | 'span_captured', counts: Source, because: string): Promise<boolean> {
  return entry.enter({ kind, counts, because } as Draft)
}
// After a refused span the way out is another weight.
const rechoose = ref(false)
watch(
  () => view.value?.weight,
  () => (rechoose.value = false),
)
const pointless = computed(() =>
  ['few_counts', 'below_expected', 'nothing_put_on', 'reversed_or_dead'].includes(entry.failure.value?.code ?? ''),
)
const leave = useTyped(() => `${job.id}.leave-pad`)
async function leavePad(): Promise<void> {
  if (await entry.enter({ kind: 'left_alone', reason: leave.value, pad: view.value?.pad ?? null })) leave.value = ''
}
async function giveUp(): Promise<void> {
  if (await entry.enter({ kind: 'adjustment_abandoned', reason: abandon.value })) abandon.value = ''
}
</script>

<template>
  <WorkFrame stage="zero_and_span">
    <template v-if="view && a">
      <p v-for="text in view.voided" :key="String(text)" class="note note-caution">{{ text }}</p>
      <LivePanel v-if="live && !job.frozen.value" :live="live" />
      <RefusalNote :failure="entry.general(['counts', 'weight', 'reason', 'steady', 'shown', 'because'])" />
      <CaptureForm
        v-if="step === 'zero' && !job.frozen.value"
        :key="'zero'"
        :action="$t('zero-span-capture-zero')"
        :live="live"
        :wrong="entry.wrong"
        :blocked="entry.blocked.value"
        :store="`${job.id}.zero`"
        :capture="(c, because) => capture('zero_captured', c, because)"
      />
      <SpanChoice
        v-else-if="step === 'weight'"
        :unit="unit"
        :max="a.setup.setup.max.value"
        @thinks="thought = $event"
      />
      <CaptureForm
        v-else-if="step === 'span'"
        :key="'span'"
        :quiet="pointless"
        :action="$t('zero-span-capture-span')"
        :live="live"
        :wrong="entry.wrong"
        :blocked="entry.blocked.value"
        :store="`${job.id}.span`"
        :capture="(c, because) => capture('span_captured', c, because)"
      />
      <form v-else-if="step === 'save'" class="row" @submit.prevent="entry.enter({ kind: 'adjustment_saved' })">
        <Button type="submit" class="btn-next" autofocus :disabled="entry.blocked.value">{{
          $t('zero-span-saved-in-the-indicator')
        }}</Button>
        <p class="quiet">{{ $t('zero-span-leave-the-weight-on-the') }}</p>
      </form>
      <Button
        v-if="step === 'span' && pointless && !job.frozen.value"
        type="button"
        class="btn-next start"
        @click="((rechoose = true), (entry.failure.value = null))"
        >{{ $t('zero-span-choose-another-span-weight') }}</Button
      >
      <form
        v-if="view.awaits_itself && step === 'done' && !job.frozen.value"
        class="row"
        @submit.prevent="entry.enter({ kind: 'self_adjusted' })"
      >
        <Button type="submit" class="btn-next" autofocus :disabled="entry.blocked.value">{{
          $t('zero-span-record-self-adjustment')
        }}</Button>
        <p class="quiet">{{ $t('zero-span-by-its-internal-weight-alone') }}</p>
      </form>
      <form
        v-if="step === 'zero' && view.pads.length && !view.saved && !job.frozen.value"
        class="row end"
        @submit.prevent="leavePad"
      >
        <div class="field grow">
          <label for="leave-pad">{{ $t('zero-span-or-leave-pad-pad-as', { pad: view.pad }) }}</label><InputText
            id="leave-pad"
            v-model="leave"
            :aria-invalid="Boolean(entry.wrong('reason'))"
          />
          <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
        </div>
        <Button type="submit" :disabled="entry.blocked.value">{{
          $t('zero-span-leave-pad-pad-as-it', { pad: view.pad })
        }}</Button>
      </form>
      <p v-if="step === 'save' && view.change_at_max" class="small">{{ view.change_at_max }}</p>
      <PointForm
        v-if="step === 'save' && view.most_points > 1 && !job.frozen.value"
        :unit="unit"
        :most="view.most_points"
        :live="live"
        :count="view.points.length ? view.points.length - 2 : 0"
      />
      <p v-else-if="view.left_alone" class="note">
        {{ $t('zero-span-left-as-it-was-left', { left_alone: view.left_alone }) }}
      </p>
      <p v-else-if="view.saved" class="note note-good">
        <strong>{{
          view.how?.say === 'state-zero-only' ? $t('zero-span-zero-saved-the-span-as') : $t('common-saved')
        }}</strong>
        {{
          view.how?.say.startsWith('state-saved')
            ? $t('zero-span-zero-and-span-at-weight', {
                weight: view.weight?.value,
                unit: view.weight?.unit,
                points: view.points.length ? $t('zero-span-count-points', { count: view.points.length }) : '',
              })
            : view.how
        }}
      </p>
      <Button v-if="step === 'done' && !job.frozen.value" type="button" class="btn" @click="again = true">{{
        $t('out-of-tolerance-adjust-again')
      }}</Button>
      <p v-for="text in view.cautions" :key="String(text)" class="note note-caution">{{ text }}</p>
      <OtherWays
        v-if="(step === 'zero' || step === 'weight') && !job.frozen.value"
        :unit="unit"
        :zero="step === 'weight'"
        :field="view.factor_field"
        :factor="!view.no_factor"
      />
      <KeySteps v-if="a.sheet.profile && step !== 'done' && !job.frozen.value" :step="step" :thought="thought" />
      <form v-if="under" class="row give-up" @submit.prevent="giveUp">
        <div class="field grow">
          <label for="abandon">{{ $t('zero-span-or-abandon-it-because') }}</label><InputText
            id="abandon"
            v-model="abandon"
            :aria-invalid="Boolean(entry.wrong('reason'))"
          />
          <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
        </div>
        <Button type="submit" :disabled="entry.blocked.value">{{ $t('zero-span-abandon') }}</Button>
      </form>
    </template>
    <template #side>
      <SpanSteps v-if="view" :view="view" :step="step" />
      <SideSheet v-if="view?.working.length" :title="$t('calculators-the-working')">
        <WorkingList :workings="view.working" />
      </SideSheet>
      <p v-if="view?.against_last" class="small figure">{{ view.against_last }}</p>
      <SimulatedControls v-if="practice && !job.frozen.value" />
    </template>
  </WorkFrame>
</template>

<style scoped>
.start {
  align-self: flex-start;
}
.end {
  align-items: end;
}
.give-up {
  border-top: 1px solid var(--rule);
  padding-top: 0.8rem;
  align-items: end;
  margin-top: auto;
}
.grow {
  flex: 1;
}
</style>
