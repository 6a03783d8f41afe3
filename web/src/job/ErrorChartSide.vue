<script setup lang="ts">
import { figure } from '../words'
import { computed, ref, watch } from 'vue'
import ErrorChart from '../drawings/ErrorChart.vue'
import ErrorChartKey from '../drawings/ErrorChartKey.vue'
import BudgetBars from './BudgetBars.vue'
import WorkingList from '../ui/WorkingList.vue'
import SideSheet from '../ui/SideSheet.vue'
import { useJob } from './useJob'

// The shade, and the working of the reading that was chosen in it or in the list.
const selected = defineModel<string | null>('selected', { default: null })
const job = useJob()
const assessment = computed(() => job.assessment.value)
const readings = computed(() => [
  ...(assessment.value?.as_found.readings ?? []),
  ...(assessment.value?.proof.readings ?? []),
])
const chosen = computed(() => readings.value.find((r) => r.entry === selected.value))
const open = ref(false)
// On a phone the chart and the working lie in a sheet, which a chosen reading draws up.
const drawn = ref(false)
watch(selected, (now) => {
  open.value = now !== null
  drawn.value ||= open.value
})
</script>

<template>
  <SideSheet v-if="assessment" v-model:open="drawn" :title="$t('error-chart-side-chart-and-working')">
    <ErrorChart :chart="assessment.error_chart" :selected="selected" @select="selected = $event" />
    <ErrorChartKey />
    <p class="small">
      <strong>{{ assessment.tolerance.label }}</strong>
    </p>
    <section v-if="chosen && open" aria-live="polite">
      <p class="row">
        <strong>{{
          $t('error-chart-side-working-for-load-text', { load_text: figure(chosen.load_text) })
        }}</strong><button type="button" class="btn btn-bare push" @click="selected = null">
          {{ $t('common-close') }}
        </button>
      </p>
      <BudgetBars v-if="chosen.budget" :budget="chosen.budget" :outside="chosen.outside_text" />
      <WorkingList :workings="chosen.working" />
    </section>
  </SideSheet>
</template>
