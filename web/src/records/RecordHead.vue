<script setup lang="ts">
import { computed } from 'vue'
import type { JobReply } from '../api/types'
import { session } from '../state/session'
import { maxByD, momentText, outcomeVerdict, outcomeWord } from '../ui/format'
import VerdictMark from '../ui/VerdictMark.vue'

// What the record is of: its number, the verdict, the scale and what it was judged by.
const { reply: data } = defineProps<{ reply: JobReply }>()
const a = computed(() => data.assessment)
</script>

<template>
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
        {{ [a.sheet.owner, a.sheet.owner_address?.split('\n').join(', '), a.sheet.place].filter(Boolean).join(', ') }}
      </dd>
    </div>
    <div>
      <dt>{{ $t('profiles-indicator') }}</dt>
      <dd>{{ a.sheet.indicator || '–' }}</dd>
    </div>
    <div>
      <dt>{{ $t('record-plate') }}</dt>
      <dd class="figure">
        {{ a.sheet.plate ? maxByD(a.sheet.plate.max, a.sheet.plate.d_min) : $t('common-none') }}
      </dd>
    </div>
    <div>
      <dt>{{ $t('simulated-controls-set-up') }}</dt>
      <dd class="figure">{{ maxByD(a.setup.setup.max, a.setup.setup.d) }}, n = {{ a.setup.n }}</dd>
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
</template>

<style scoped>
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
@media (max-width: 46rem) {
  dl {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
