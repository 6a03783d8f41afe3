<script setup lang="ts">
import { say, figure } from '../words'
import { computed, watch } from 'vue'
import { useJobQuery } from '../api/jobs'
import { held, isPending as pends } from '../offline/held'
import { usePaperKind } from '../api/papers'
import ErrorChart from '../drawings/ErrorChart.vue'
import ErrorChartKey from '../drawings/ErrorChartKey.vue'
import RecordBasis from './RecordBasis.vue'
import RecordFoot from './RecordFoot.vue'
import RecordHead from './RecordHead.vue'
import RecordWork from './RecordWork.vue'
import RecordReview from './RecordReview.vue'
import VersionList from './VersionList.vue'
import ReadingTable from '../job/reading/ReadingTable.vue'
import { session } from '../state/session'

const props = defineProps<{ job: string }>()
const { data, error } = useJobQuery(() => props.job)
const a = computed(() => data.value?.assessment)
const { data: paper } = usePaperKind(
  () => props.job,
  () => a.value?.entries.length ?? 0,
)
// The next action of a reviewer is the approval.
const waits = computed(() => session.has('reviewer') && a.value?.review.standing === 'signed')
watch(a, (now) => {
  if (now)
    document.title = say('record-name-record-number-ombret', {
      name: now.sheet.name,
      number: data.value?.job.number ?? '',
    })
})
// What is not home yet has no number, no PDF and no certificate; it is printed as it stands.
const isPending = computed(() => held.all.value.some((job) => job.id === props.job && pends(job)))
const print = () => window.print()
</script>

<template>
  <main id="main" class="desk">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <div v-if="a && data" class="row tools no-print">
      <template v-if="!isPending">
        <a class="btn" :class="{ 'btn-next': !waits }" :href="`/api/jobs/${props.job}/certificate`" download>{{
          $t('record-report-pdf', { report: paper?.certificate ? $t('common-certificate') : $t('record-work-report') })
        }}</a>
        <a v-if="paper?.label" class="btn" :href="`/api/jobs/${props.job}/label?form=pdf`" download>{{
          $t('record-label')
        }}</a>
        <a v-if="paper?.certificate" class="btn" :href="`/api/jobs/${props.job}/dcc`" download>{{
          $t('record-dcc')
        }}</a>
        <a class="btn" :href="`/api/jobs/${props.job}/file`" download>{{ $t('record-job-file') }}</a>
        <a class="btn" :href="`/api/jobs/${props.job}/readings`" download>{{ $t('record-readings') }}</a>
      </template>
      <button v-else type="button" class="btn btn-next" @click="print">{{ $t('common-print') }}</button>
      <RouterLink class="btn" :to="{ name: 'job', params: { job: props.job, stage: 'close' } }">{{
        $t('common-to-the-job')
      }}</RouterLink>
      <button v-if="!isPending" type="button" class="btn btn-bare" @click="print">{{ $t('common-print') }}</button>
    </div>
    <p v-if="isPending" class="note no-print">{{ $t('record-offline-what-follows') }}</p>
    <RecordReview v-if="!isPending && data && data.job.number && !a?.sheet.practice" :reply="data" />
    <p
      v-if="paper && !paper.certificate && paper.lacks.length && data?.job.number && !a?.sheet.practice"
      class="why small quiet no-print"
    >
      {{ $t('record-a-work-report-no-calibration', { what: paper.lacks.join('; ') }) }}
      <RouterLink :to="{ name: 'letterhead' }">{{ $t('record-what-stands-on-paper') }}</RouterLink>
    </p>
    <article
      v-if="a && data"
      class="page"
      :class="{ practised: a.sheet.practice }"
      :data-mark="$t('record-practice-mark')"
    >
      <RecordHead :reply="data" />
      <p class="says">{{ a.outcome_says }}</p>
      <div class="two">
        <figure><ErrorChart :chart="a.error_chart" /><ErrorChartKey /></figure>
        <RecordWork :assessment="a" />
      </div>
      <section v-if="a.as_found.readings.length">
        <h2>
          {{ $t('record-as-found') }}
          <span class="small quiet">{{
            $t('record-judged-at-max-d-unit', {
              max: figure(a.as_found.setup.max.value),
              d: figure(a.as_found.setup.d.value),
              unit: a.as_found.setup.d.unit,
            })
          }}</span>
        </h2>
        <ReadingTable :readings="a.as_found.readings.filter((r) => r.purpose === 'load')" plain />
      </section>
      <section v-if="a.proof.readings.length">
        <h2>{{ $t('record-as-left') }}</h2>
        <ReadingTable :readings="a.proof.readings.filter((r) => r.purpose === 'load')" plain />
      </section>
      <RecordBasis :assessment="a" />
      <RecordFoot :job="props.job" :assessment="a" :certifies="Boolean(paper?.certificate)" />
    </article>
    <VersionList v-if="a && data" :job="props.job" :entries="a.entries.length" />
  </main>
</template>

<style scoped>
/* Across the whole sheet, in print too: nobody can take it for a record. */
.practised {
  position: relative;
}
.practised::after {
  content: attr(data-mark);
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  font-size: 9rem;
  font-weight: 800;
  letter-spacing: 0.1em;
  color: var(--ink);
  opacity: 0.09;
  rotate: -28deg;
  pointer-events: none;
  overflow: hidden;
}
.desk {
  padding: 1rem 1.25rem 2rem;
  display: flex;
  flex-direction: column;
  gap: 1rem;
  align-items: center;
}
.tools,
.why {
  width: min(52rem, 100%);
}
.page {
  background: var(--sheet);
  width: min(52rem, 100%);
  padding: 1.75rem 2rem;
  border: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  gap: 0.9rem;
}
.says {
  font-weight: 600;
}
.two {
  display: grid;
  grid-template-columns: 1.25fr 1fr;
  gap: 1.5rem;
}
figure {
  margin: 0;
}
section :deep(td),
section :deep(th) {
  padding-top: 0.12rem;
  padding-bottom: 0.12rem;
}
@media (max-width: 46rem) {
  .two {
    grid-template-columns: 1fr;
  }
}
@media print {
  .desk {
    padding: 0;
  }
  .page {
    border: none;
    padding: 0;
    width: 100%;
    gap: 0.6rem;
  }
  section,
  .page :deep(section) {
    break-inside: avoid;
  }
}
</style>
