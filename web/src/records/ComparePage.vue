<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useCompare } from '../api/history'
import ErrorChart from '../drawings/ErrorChart.vue'
import ErrorChartKey from '../drawings/ErrorChartKey.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { momentText, outcomeVerdict, outcomeWord } from '../ui/format'

// Two records, or two versions of one: what is not the same comes first to the eye.
const route = useRoute()
const text = (value: unknown) => (typeof value === 'string' ? value : '')
const { data, error } = useCompare(
  () => text(route.query.one),
  () => text(route.query.other),
)
const all = ref(false)
const differing = computed(() => data.value?.facts.filter((f) => f.differs) ?? [])
const rows = computed(() => (all.value ? (data.value?.facts ?? []) : differing.value))
const print = () => window.print()
</script>

<template>
  <main id="main" class="compare stack">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="!route.query.one || !route.query.other" class="quiet">
      {{ $t('compare-two-records-are-chosen-among') }}
    </p>
    <template v-if="data">
      <div class="row">
        <h1>
          <span class="figure">{{ data.one.number }}</span> {{ $t('compare-beside') }}
          <span class="figure">{{ data.other.number }}</span>
        </h1>
        <span class="push"></span
        ><label class="check no-print"
          ><input v-model="all" type="checkbox" name="all" /> {{ $t('compare-also-what-is-the-same') }}</label
        ><button type="button" class="btn no-print" @click="print">{{ $t('common-print') }}</button>
      </div>
      <div class="beside">
        <figure v-for="r in [data.one, data.other]" :key="r.number">
          <figcaption>
            <RouterLink class="figure" :to="{ name: 'record', params: { job: r.job } }">{{ r.number }}</RouterLink>
            {{ r.scale
            }}<span class="quiet">{{
              r.signed_at
                ? $t('compare-signed-signed-at', { signed_at: momentText(r.signed_at) })
                : $t('compare-not-signed')
            }}</span
            ><br /><VerdictMark :verdict="outcomeVerdict(r.outcome)" :word="outcomeWord(r.outcome)" />
          </figcaption>
          <ErrorChart :chart="r.error_chart" />
        </figure>
      </div>
      <ErrorChartKey />
      <p v-if="!differing.length" role="status">{{ $t('compare-every-fact-of-the-two') }}</p>
      <table v-if="rows.length">
        <thead>
          <tr>
            <th scope="col">
              {{ $t('compare-count-of-count2-differ', { count: differing.length, count2: data.facts.length }) }}
            </th>
            <th scope="col" class="figure">{{ data.one.number }}</th>
            <th scope="col" class="figure">{{ data.other.number }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in rows" :key="String(f.what)" :class="{ same: !f.differs }">
            <th scope="row">{{ f.what }}</th>
            <td>{{ f.one ?? '–' }}</td>
            <td>{{ f.other ?? '–' }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </main>
</template>

<style scoped>
.compare {
  padding: 1rem 1.25rem 2rem;
  max-width: 76rem;
}
.beside {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1.5rem;
}
figure {
  margin: 0;
}
tbody th {
  color: var(--ink);
  font-size: 1rem;
  width: 22%;
}
td {
  width: 39%;
  font-weight: 600;
}
.same th,
.same td {
  font-weight: 400;
  color: var(--ink-2);
}
@media (max-width: 50rem) {
  .beside {
    grid-template-columns: 1fr;
  }
}
</style>
