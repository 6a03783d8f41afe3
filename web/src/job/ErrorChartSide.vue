<script setup lang="ts">
import { figure } from '../words'
import { computed, ref, watch } from 'vue'
import ErrorChart from '../drawings/ErrorChart.vue'
import ErrorChartKey from '../drawings/ErrorChartKey.vue'
import BudgetBars from './BudgetBars.vue'
import WorkingList from '../ui/WorkingList.vue'
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
watch(selected, (now) => (open.value = now !== null))
</script>

<template>
  <div v-if="assessment" class="stack tight">
    <ErrorChart :shade="assessment.shade" :selected="selected" @select="selected = $event" />
    <ErrorChartKey />
    <p class="small">
      <strong>{{ assessment.tolerance.label }}</strong>
    </p>
    <section v-if="chosen && open" aria-live="polite">
      <p class="row">
        <strong>{{
          $t('error-chart-side-working-for-load-text', { load_text: figure(chosen.load_text) })
        }}</strong><button type="button" class="btn btn-bare push" @click="selected = null">
          {{ $t('error-chart-side-close') }}
        </button>
      </p>
      <BudgetBars v-if="chosen.budget" :budget="chosen.budget" :outside="chosen.outside_text" />
      <WorkingList :workings="chosen.working" />
    </section>
  </div>
</template>
