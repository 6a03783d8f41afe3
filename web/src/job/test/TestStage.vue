<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { LiveView } from '../../api/types'
import VerdictMark from '../../ui/VerdictMark.vue'
import DecisionForm from './DecisionForm.vue'
import CheckTabs from '../CheckTabs.vue'
import DiagnosisPanel from '../DiagnosisPanel.vue'
import LivePanel from '../LivePanel.vue'
import SimulatedControls from '../../practice/SimulatedControls.vue'
import LoadList from '../LoadList.vue'
import NoFigureList from '../reading/NoFigureList.vue'
import OutOfTolerance from '../OutOfTolerance.vue'
import ReadingForm from '../reading/ReadingForm.vue'
import ReadingTable from '../reading/ReadingTable.vue'
import SideSheet from '../../ui/SideSheet.vue'
import ErrorChartSide from '../ErrorChartSide.vue'
import TestForm from '../reading/TestForm.vue'
import WorkFrame from '../WorkFrame.vue'
import { useJob } from '../useJob'
import { useLoads } from '../useLoads'
import { outcomeVerdict, outcomeWord } from '../../ui/format'

defineProps<{ live: LiveView | null; practice: boolean }>()
const job = useJob()
const a = computed(() => job.assessment.value)
const loads = useLoads('prove')
const selected = ref<string | null>(null)
const part = ref('loads')
// The test that is next opens by itself; whoever chose another tab stays there.
let opened = ''
watch(
  () => (loads.active.value ? loads.next.value?.purpose : undefined),
  (now) => {
    // While the next load is worked out nothing is next, and nothing is opened.
    const to = !now ? '' : now === 'load' ? 'loads' : now
    if (to && to !== opened && (!opened || part.value === opened)) part.value = to
    if (to) opened = to
  },
  { immediate: true },
)
const tests = computed(() => a.value?.proof.tests.filter((t) => t.test === part.value) ?? [])
const zeros = computed(() => a.value?.proof.tests.filter((t) => t.test === 'zero_return' && t.done) ?? [])
const open = computed(
  () => !job.frozen.value && Boolean(a.value && (a.value.adjust.saved || a.value.adjust.left_alone)),
)
</script>

<template>
  <WorkFrame stage="prove">
    <template v-if="a">
      <OutOfTolerance v-if="open && a.next.act === 'out_of_tolerance'" @corners="part = 'eccentricity'" />
      <LivePanel v-if="live && open" :live="live" />
      <CheckTabs v-if="open" v-model="part" :phase="a.proof" :active="loads.active.value" />
      <TestForm v-if="open && tests.length" stage="prove" :tests="tests" :phase="a.proof" :live="live" />
      <ReadingForm v-if="open && !tests.length" stage="prove" :phase="a.proof" :live="live" />
      <p v-if="open" class="row tight small">
        <RouterLink :to="{ name: 'loads', params: { job: job.id } }">{{
          $t('test-what-to-lift-and-where')
        }}</RouterLink>
        <RouterLink
          v-if="!a.proof.lacks.length"
          class="push"
          :to="{ name: 'job', params: { job: job.id, stage: 'close' } }"
          replace
          >{{ $t('test-enough-is-proved-to-close') }}</RouterLink
        >
      </p>
      <p v-if="!open && !job.frozen.value" class="note">
        {{ $t('test-nothing-to-prove-yet-adjust') }}
      </p>
      <ReadingTable
        v-if="a.proof.readings.length"
        :readings="a.proof.readings"
        :selected="selected"
        @select="selected = selected === $event ? null : $event"
      />
      <NoFigureList :lines="a.proof.no_figures" />
      <p class="row" role="status">
        <VerdictMark :verdict="outcomeVerdict(a.outcome)" :word="outcomeWord(a.outcome)" /><span class="small">{{
          a.proof.says
        }}</span>
      </p>
      <p v-for="z in zeros" :key="z.pad" class="small">
        {{ zeros.length > 1 ? $t('test-pad-pad', { pad: z.pad }) + ' ' : '' }}{{ z.says }}
      </p>
    </template>
    <template #side>
      <ErrorChartSide v-model:selected="selected" />
      <DiagnosisPanel stage="prove" />
      <DecisionForm />
      <SideSheet v-if="a && open" :title="$t('load-list-loads-in-order')"
        ><LoadList :list="loads.list.value" :pads="a.sheet.pads ?? 1" :active="loads.active.value"
      /></SideSheet>
      <SimulatedControls v-if="practice && !job.frozen.value" />
    </template>
  </WorkFrame>
</template>
