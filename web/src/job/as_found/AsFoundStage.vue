<script setup lang="ts">
import { computed, ref } from 'vue'
import type { LiveView } from '../../api/types'
import AdjustOrLeave from './AdjustOrLeave.vue'
import SimulatedControls from '../../practice/SimulatedControls.vue'
import CheckTabs from '../CheckTabs.vue'
import DiagnosisPanel from '../DiagnosisPanel.vue'
import LoadList from '../LoadList.vue'
import FoundSetup from './FoundSetup.vue'
import LivePanel from '../LivePanel.vue'
import NoFigureList from '../reading/NoFigureList.vue'
import ReadingForm from '../reading/ReadingForm.vue'
import ReadingTable from '../reading/ReadingTable.vue'
import SideSheet from '../../ui/SideSheet.vue'
import ErrorChartSide from '../ErrorChartSide.vue'
import TestForm from '../reading/TestForm.vue'
import WorkFrame from '../WorkFrame.vue'
import { useJob } from '../useJob'
import { useLoads } from '../useLoads'

defineProps<{ live: LiveView | null; practice: boolean }>()
const job = useJob()
const loads = useLoads('as_found')
const selected = ref<string | null>(null)
const part = ref('loads')
const tests = computed(() => phase.value?.tests.filter((t) => t.test === part.value) ?? [])
const phase = computed(() => job.assessment.value?.as_found)
const open = computed(
  () => !job.frozen.value && !job.assessment.value?.adjust.saved && !job.assessment.value?.adjust.zero,
)
const undecided = computed(
  () => open.value && !job.assessment.value?.adjust.left_alone && (phase.value?.readings.length ?? 0) > 0,
)
const chooses = computed(() => job.assessment.value?.next.act === 'choose')
</script>

<template>
  <WorkFrame stage="as_found">
    <template v-if="phase">
      <AdjustOrLeave v-if="undecided && chooses" />
      <LivePanel v-if="live && open" :live="live" />
      <CheckTabs v-if="open" v-model="part" :phase="phase" :active="loads.active.value" />
      <TestForm v-if="open && tests.length" stage="as_found" :tests="tests" :phase="phase" :live="live" />
      <ReadingForm v-else-if="open" stage="as_found" :phase="phase" :live="live" />
      <p v-else-if="!phase.readings.length" class="quiet">{{ $t('as-found-no-reading-was-taken-as') }}</p>
      <ReadingTable
        v-if="phase.readings.length"
        :readings="phase.readings"
        :selected="selected"
        @select="selected = selected === $event ? null : $event"
      />
      <NoFigureList :lines="phase.no_figures" />
      <p v-if="phase.readings.length || phase.no_figures.length" class="small">{{ phase.says }}</p>
      <FoundSetup v-if="open && !phase.readings.length" />
      <AdjustOrLeave v-if="undecided && !chooses" />
    </template>
    <template #side>
      <ErrorChartSide v-model:selected="selected" />
      <DiagnosisPanel stage="as_found" />
      <SideSheet v-if="open" :title="$t('load-list-loads-in-order')"
        ><LoadList :list="loads.list.value" :pads="job.assessment.value?.sheet.pads ?? 1" :active="loads.active.value"
      /></SideSheet>
      <SimulatedControls v-if="practice && !job.frozen.value" />
    </template>
  </WorkFrame>
</template>
