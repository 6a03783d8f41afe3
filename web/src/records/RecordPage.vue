<script setup lang="ts">
import { say } from '../words'
import { computed, watch } from 'vue'
import { useJobQuery } from '../api/jobs'
import { usePaperKind } from '../api/papers'
import ErrorChart from '../drawings/ErrorChart.vue'
import ErrorChartKey from '../drawings/ErrorChartKey.vue'
import RecordReview from './RecordReview.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import VersionList from './VersionList.vue'
import ReadingTable from '../job/reading/ReadingTable.vue'
import { momentText, outcomeVerdict, outcomeWord, rounded } from '../ui/format'
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
const tests = computed(() =>
  [
    ...(a.value?.proof.tests ?? []),
    ...(a.value?.proof.tests.some((t) => t.done) ? [] : (a.value?.as_found.tests ?? [])),
  ].filter((t) => t.done > 0),
)
const faults = computed(() => a.value?.look_over.filter((c) => c.finding === 'fault') ?? [])
const seen = computed(() => a.value?.look_over.filter((c) => c.finding && c.finding !== 'not_applicable').length ?? 0)
watch(a, (now) => {
  if (now)
    document.title = say('record-name-record-number-ombret', {
      name: now.sheet.name,
      number: data.value?.job.number ?? '',
    })
})
const print = () => window.print()
</script>

<template>
  <main id="main" class="desk">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <div v-if="a && data" class="row tools no-print">
      <a class="btn" :class="{ 'btn-next': !waits }" :href="`/api/jobs/${props.job}/certificate`" download>{{
        $t('record-report-pdf', { report: paper?.certificate ? $t('common-certificate') : $t('record-work-report') })
      }}</a>
      <a v-if="paper?.label" class="btn" :href="`/api/jobs/${props.job}/label?form=pdf`" download>{{
        $t('record-label')
      }}</a>
      <a v-if="paper?.certificate" class="btn" :href="`/api/jobs/${props.job}/dcc`" download>{{ $t('record-dcc') }}</a>
      <a class="btn" :href="`/api/jobs/${props.job}/file`" download>{{ $t('record-job-file') }}</a>
      <a class="btn" :href="`/api/jobs/${props.job}/readings`" download>{{ $t('record-readings') }}</a>
      <RouterLink class="btn" :to="{ name: 'job', params: { job: props.job, stage: 'close' } }">{{
        $t('common-to-the-job')
      }}</RouterLink>
      <button type="button" class="btn btn-bare" @click="print">{{ $t('common-print') }}</button>
    </div>
    <RecordReview v-if="data && data.job.number && !a?.sheet.practice" :reply="data" />
    <p
      v-if="paper && !paper.certificate && paper.lacks.length && data?.job.number && !a?.sheet.practice"
      class="why small quiet no-print"
    >
      {{ $t('record-a-work-report-no-calibration', { what: paper.lacks.join('; ') }) }}
      <RouterLink :to="{ name: 'paper' }">{{ $t('record-what-stands-on-paper') }}</RouterLink>
    </p>
    <article v-if="a && data" class="page" :class="{ practised: a.sheet.practice }">
      <header>
        <div>
          <p v-if="!data.job.imported" class="small quiet">{{ session.person.value?.workshop }}</p>
          <h1>
            {{ a.sheet.practice ? $t('record-practice-sheet-no-record') : $t('record-work-record') }}
            {{ data.job.number ?? '' }}
          </h1>
          <p v-if="data.job.imported" class="wrong">{{ $t('record-imported-from-a-file-not') }}</p>
          <p v-if="!a.close.signed" class="wrong">{{ $t('record-not-signed-this-is-a') }}</p>
          <p v-if="a.review.replaces" class="small">
            {{
              $t('record-version-version-in-the-place', {
                version: a.review.version,
                replaces: a.review.replaces,
                because: a.review.because,
              })
            }}
          </p>
        </div>
        <p class="verdict"><VerdictMark :verdict="outcomeVerdict(a.outcome)" :word="outcomeWord(a.outcome)" /></p>
      </header>
      <dl>
        <div>
          <dt>{{ $t('common-scale') }}</dt>
          <dd>{{ a.sheet.name }}, {{ a.sheet.serial }}</dd>
        </div>
        <div>
          <dt>{{ $t('record-owner-place') }}</dt>
          <dd>
            {{
              [a.sheet.owner, a.sheet.owner_address?.split('\n').join(', '), a.sheet.place].filter(Boolean).join(', ')
            }}
          </dd>
        </div>
        <div>
          <dt>{{ $t('profiles-indicator') }}</dt>
          <dd>{{ a.sheet.indicator || '–' }}</dd>
        </div>
        <div>
          <dt>{{ $t('record-plate') }}</dt>
          <dd class="figure">
            {{
              a.sheet.plate
                ? `${a.sheet.plate.max.value} × ${a.sheet.plate.d_min.value} ${a.sheet.plate.d_min.unit}`
                : $t('common-none')
            }}
          </dd>
        </div>
        <div>
          <dt>{{ $t('simulated-controls-set-up') }}</dt>
          <dd class="figure">
            {{ a.setup.setup.max.value }} × {{ a.setup.setup.d.value }} {{ a.setup.setup.d.unit }}, n = {{ a.setup.n }}
          </dd>
        </div>
        <div>
          <dt>{{ $t('common-tolerance') }}</dt>
          <dd>{{ a.tolerance.label }}</dd>
        </div>
        <div>
          <dt>{{ $t('record-begun') }}</dt>
          <dd>{{ momentText(a.started_at) }}, {{ a.started_by }}</dd>
        </div>
        <div>
          <dt>{{ $t('record-use') }}</dt>
          <dd>{{ a.sheet.trade ? $t('record-trade') : $t('record-not-for-trade') }}</dd>
        </div>
      </dl>
      <p class="says">{{ a.outcome_says }}</p>
      <div class="two">
        <figure><ErrorChart :shade="a.shade" /><ErrorChartKey /></figure>
        <div class="stack tight">
          <section>
            <h2>{{ $t('record-looked-over') }}</h2>
            <p class="small">
              {{
                $t('record-seen-items-order', {
                  seen,
                  order: faults.length
                    ? $t('record-count-with-a-fault', { count: faults.length })
                    : $t('record-all-in-order'),
                })
              }}
            </p>
            <ul class="small">
              <li v-for="f in faults" :key="f.item">
                {{ f.label }}: {{ f.note ?? $t('record-fault') }}; {{ f.settled ?? $t('record-open')
                }}{{ f.settled_says ? `: ${f.settled_says}` : '' }}
              </li>
            </ul>
          </section>
          <section v-if="a.adjust.saved">
            <h2>{{ $t('common-adjusted') }}</h2>
            <p v-if="a.adjust.earlier.length" class="small">
              {{ $t('record-before-it-what', { what: a.adjust.earlier.join('; ') }) }}
            </p>
            <p class="small">
              <template v-for="(l, i) in a.adjust.lines.filter((l) => l.figure)" :key="i"
                >{{ i ? '; ' : '' }}{{ l.label }} <span class="figure">{{ l.figure }}</span>{{
                  l.note ? ` ${l.note}` : ''
                }}</template
              >.
            </p>
            <p v-if="a.adjust.against_last" class="small">{{ a.adjust.against_last }}</p>
          </section>
          <section v-else-if="a.adjust.left_alone">
            <h2>{{ $t('record-not-adjusted') }}</h2>
            <p class="small">{{ a.adjust.left_alone }}</p>
          </section>
          <section>
            <h2>{{ $t('common-closed') }}</h2>
            <p class="small">
              {{
                a.close.seals
                  ? $t('record-seals-seals', { seals: a.close.seals }) + ' '
                  : $t('record-no-seals-named') + ' '
              }}{{ a.close.switch_back ? $t('record-switch-back-cover-on') + ' ' : ''
              }}{{ a.close.locked ? $t('record-set-up-locked') : '' }}
            </p>
          </section>
        </div>
      </div>
      <section v-if="a.as_found.readings.length">
        <h2>
          {{ $t('record-as-found') }}
          <span class="small quiet">{{
            $t('record-judged-at-max-d-unit', {
              max: a.as_found.setup.max.value,
              d: a.as_found.setup.d.value,
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
      <section v-if="tests.length">
        <h2>{{ $t('record-tests') }}</h2>
        <ul class="small">
          <li v-for="t in tests" :key="`${t.pad}${t.test}`">
            <strong>{{ t.label }}{{ (a.sheet.pads ?? 1) > 1 ? $t('common-pad-pad', { pad: t.pad }) : '' }}:</strong>
            {{ t.says
            }}<template v-if="t.spots.length"
              >{{ ' '
              }}{{
                t.spots
                  .filter((s) => s.shown_text)
                  .map((s) => `${s.place} ${s.error_text}`)
                  .join('; ')
              }}.</template
            ><template v-if="t.series.length">{{ ' ' }}{{ t.series.map((s) => s.shown_text).join(', ') }}.</template>
          </li>
        </ul>
      </section>
      <section v-if="a.largest_u">
        <h2>{{ $t('budget-bars-uncertainty') }}</h2>
        <p class="small">
          U = <span class="figure">{{ a.largest_u.expanded_text }}</span> {{ $t('record-at-the-most-k') }}
          <span class="figure">{{ rounded(a.largest_u.k, 2) }}</span>
          {{ $t('record-for-about-95-decision-rule', { label: a.decision.label, what: a.largest_u.notes.join(' ') }) }}
        </p>
      </section>
      <section v-if="a.weights_used.length">
        <h2>{{ $t('common-weights') }}</h2>
        <p class="small">
          <template v-for="(w, i) in a.weights_used" :key="w.id"
            >{{ i ? '; ' : '' }}<span class="figure">{{ w.nominal.value }} {{ w.nominal.unit }}</span>
            {{ w.serial }} ({{
              w.reference
                ? $t('record-weighed-record-reference', { reference: w.reference })
                : [w.class, w.certificate, w.due && $t('record-due-due', { due: w.due })].filter(Boolean).join(', ')
            }})</template
          >
        </p>
      </section>
      <section v-if="a.reservations.length || a.close.remarks.length">
        <h2>{{ $t('record-to-be-noted') }}</h2>
        <ul class="small">
          <li v-for="t in [...a.reservations, ...a.close.remarks]" :key="String(t)">{{ t }}</li>
        </ul>
      </section>
      <section v-if="a.files.some((f) => f.on_record)">
        <h2>{{ $t('common-photos-and-files') }}</h2>
        <ul class="row pictures">
          <li v-for="f in a.files.filter((f) => f.on_record)" :key="f.id" class="small">
            <a :href="`/api/files/${f.id}`" target="_blank" rel="noopener"
              ><img v-if="f.media.startsWith('image/')" :src="`/api/files/${f.id}`" :alt="f.caption || f.name" /><span
                v-else
                >{{ f.name }}</span
              ></a
            ><br />{{ f.caption || f.name }}
          </li>
        </ul>
      </section>
      <footer>
        <p v-if="a.close.customer">
          <span class="quiet small">{{ $t('record-for-the-customer') }}</span><br /><svg
            class="signature"
            viewBox="0 0 600 200"
            role="img"
            :aria-label="$t('record-signature-of-name', { name: a.close.customer.name })"
          >
            <path :d="a.close.customer.path" /></svg
          ><br /><strong>{{ a.close.customer.name }}</strong
          ><br /><span class="small">{{ momentText(a.close.customer.at) }}</span>
        </p>
        <p v-if="a.review.approved">
          <span class="quiet small">{{ $t('common-approved') }}</span><br /><strong>{{ a.review.approved.by }}</strong
          ><br /><span class="small">{{ momentText(a.review.approved.at) }}</span>
        </p>
        <p>
          <span class="quiet small">{{ $t('common-signed') }}</span><br /><strong>{{ a.close.signed ?? '' }}</strong
          ><br /><span class="small">{{ a.close.signed_at ? momentText(a.close.signed_at) : '' }}</span>
        </p>
        <p class="small quiet foot">
          {{
            $t('record-source-errors-are-plain-readings', {
              source: a.tolerance.source,
              certificate: paper?.certificate
                ? $t('record-a-calibration-certificate-of-this')
                : $t('record-this-is-a-record-of'),
            })
          }}
          <span class="figure">{{ props.job }}</span>
        </p>
      </footer>
    </article>
    <VersionList v-if="a && data" :job="props.job" :entries="a.entries.length" />
  </main>
</template>

<style scoped>
.signature {
  width: 10rem;
  height: 3.3rem;
}
.signature path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  stroke-linecap: round;
}
.pictures img {
  max-width: 14rem;
  max-height: 10rem;
}
/* Across the whole sheet, in print too: nobody can take it for a record. */
.practised {
  position: relative;
}
.practised::after {
  content: 'PRACTICE';
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
header {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  align-items: end;
  border-bottom: 2px solid var(--ink);
  padding-bottom: 0.6rem;
}
.verdict {
  font-size: 1.3rem;
}
dl {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 0.5rem 1.2rem;
}
dt {
  font-size: 0.8rem;
  color: var(--ink-2);
}
dd.figure {
  white-space: normal;
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
footer {
  display: flex;
  gap: 2rem;
  justify-content: space-between;
  border-top: 1px solid var(--rule);
  padding-top: 0.7rem;
}
.foot {
  max-width: 32rem;
}
section :deep(td),
section :deep(th) {
  padding-top: 0.12rem;
  padding-bottom: 0.12rem;
}
@media (max-width: 46rem) {
  dl {
    grid-template-columns: 1fr 1fr;
  }
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
  section {
    break-inside: avoid;
  }
}
</style>
