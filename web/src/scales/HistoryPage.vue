<script setup lang="ts">
import { computed, ref } from 'vue'
import { useHistory } from '../api/history'
import DriftLine from '../drawings/DriftLine.vue'
import ErrorChart from '../drawings/ErrorChart.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import type { ErrorChartData } from '../api/types'
import { dayText, outcomeVerdict, outcomeWord, massText, percent } from '../ui/format'
import { vCards } from '../ui/cards'

const props = defineProps<{ scale: string }>()
const { data, error } = useHistory(() => props.scale)
const records = computed(() => [...(data.value?.records ?? [])].reverse())
const chosen = ref<string[]>([])
const beside = computed(() => records.value.filter((r) => chosen.value.includes(r.job)).slice(0, 2))
const share = (s: number | null) => (s === null ? '–' : `${percent(s)} %`)
const drawing = (chart: unknown) => chart as ErrorChartData
</script>

<template>
  <main id="main" class="history stack">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <template v-if="data">
      <div class="row">
        <h1>{{ $t('history-name-its-records', { name: data.name }) }}</h1>
        <span class="push"></span
        ><RouterLink class="btn" :to="{ name: 'scale', params: { scale: props.scale } }">{{
          $t('history-to-its-sheet')
        }}</RouterLink>
      </div>
      <p v-if="data.total > records.length" class="small quiet">
        {{ $t('history-the-newest-count-of-total', { count: records.length, total: data.total }) }}
      </p>
      <p v-if="!records.length" class="quiet">{{ $t('history-no-record-yet-close-a') }}</p>
      <section v-if="data.drift" class="drift">
        <DriftLine
          :drift="data.drift"
          :adjusted="data.records.filter((r) => r.adjusted).map((r) => r.closed_at.slice(0, 10))"
        />
        <p class="small quiet">{{ $t('history-as-found-as-left-adjusted') }}</p>
        <p data-testid="drift">
          {{ data.drift.says
          }}<template v-if="data.drift.between">
            {{
              $t('history-the-band-of-90-meets', {
                now: data.drift.between[0] ?? $t('history-now'),
                off: data.drift.between[1] ?? $t('history-far-off'),
              })
            }}</template
          >
        </p>
      </section>
      <table v-if="records.length" v-cards>
        <thead>
          <tr>
            <th scope="col">{{ $t('history-beside') }}</th>
            <th scope="col">{{ $t('common-record') }}</th>
            <th scope="col">{{ $t('common-closed') }}</th>
            <th scope="col">{{ $t('common-outcome') }}</th>
            <th scope="col" class="right">{{ $t('history-as-found-of-the-tolerance') }}</th>
            <th scope="col" class="right">{{ $t('record-as-left') }}</th>
            <th scope="col" class="after">{{ $t('common-adjusted') }}</th>
            <th scope="col">{{ $t('history-its-weights-as-they-are') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in records" :key="r.job">
            <td>
              <label class="check"
                ><input
                  v-model="chosen"
                  type="checkbox"
                  :value="r.job"
                  :disabled="chosen.length > 1 && !chosen.includes(r.job)"
                  :aria-label="$t('history-put-number-beside-another', { number: r.number })"
              /></label>
            </td>
            <td>
              <RouterLink class="figure" :to="{ name: 'record', params: { job: r.job } }">{{ r.number }}</RouterLink>
            </td>
            <td>{{ dayText(r.closed_at) }}</td>
            <td><VerdictMark :verdict="outcomeVerdict(r.outcome)" :word="outcomeWord(r.outcome)" /></td>
            <td class="figure right">{{ share(r.found_share) }}</td>
            <td class="figure right">{{ share(r.left_share) }}</td>
            <td class="after">{{ r.adjusted ? $t('common-yes') : $t('common-no') }}</td>
            <td class="small">
              <span v-if="!r.weights" class="quiet">{{ $t('history-none-named') }}</span><span
                v-else-if="!r.doubts.length"
                class="quiet"
                >{{ $t('history-nothing-against-it', { weights: r.weights }) }}</span
              >
              <ul v-else class="doubt">
                <li v-for="d in r.doubts" :key="String(d)">{{ d }}</li>
              </ul>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="beside.length === 2">
        <RouterLink
          class="btn btn-next"
          :to="{ name: 'compare', query: { one: beside[1]?.job, other: beside[0]?.job } }"
          >{{
            $t('history-every-figure-of-number-beside', { number: beside[1]?.number, number2: beside[0]?.number })
          }}</RouterLink
        >
      </p>
      <section v-if="beside.length === 2" class="beside" :aria-label="$t('history-two-records-side-by-side')">
        <figure v-for="r in beside" :key="r.job">
          <figcaption>
            <strong class="figure">{{ r.number }}</strong>
            {{
              $t('history-closed-at-found-found-share', {
                closed_at: dayText(r.closed_at),
                found_share: share(r.found_share),
                left_share: share(r.left_share),
              })
            }}
          </figcaption>
          <ErrorChart v-if="r.error_chart" :chart="drawing(r.error_chart)" />
        </figure>
      </section>
      <section v-if="data.earlier.length" class="stack tight">
        <h2>{{ $t('history-before-this-workshop-kept-its') }}</h2>
        <p class="small quiet">{{ $t('history-imported-results-shown-for-comparison') }}</p>
        <table data-testid="earlier">
          <thead>
            <tr>
              <th scope="col">{{ $t('history-date') }}</th>
              <th scope="col" class="right">{{ $t('common-load') }}</th>
              <th scope="col" class="right">{{ $t('common-error') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(e, i) in data.earlier" :key="i">
              <td class="figure">{{ dayText(e.day) }}</td>
              <td class="figure right">{{ massText(e.load) }}</td>
              <td class="figure right">{{ massText(e.error) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </template>
  </main>
</template>

<style scoped>
.history {
  padding: 1rem 1.25rem 2rem;
}
.after {
  padding-left: 1.2rem;
}
.doubt {
  color: var(--light-ink);
  font-weight: 600;
}
.beside {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1.5rem;
}
figure {
  margin: 0;
}
@media (max-width: 50rem) {
  .beside {
    grid-template-columns: 1fr;
  }
}
</style>
