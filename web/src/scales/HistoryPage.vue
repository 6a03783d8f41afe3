<script setup lang="ts">
import { computed, ref } from 'vue'
import { useHistory } from '../api/history'
import DriftLine from '../drawings/DriftLine.vue'
import ErrorChart from '../drawings/ErrorChart.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import type { Shade } from '../api/types'
import { dayText, outcomeVerdict, outcomeWord } from '../ui/format'

const props = defineProps<{ scale: string }>()
const { data, error } = useHistory(() => props.scale)
const records = computed(() => [...(data.value?.records ?? [])].reverse())
const chosen = ref<string[]>([])
const beside = computed(() => records.value.filter((r) => chosen.value.includes(r.job)).slice(0, 2))
const share = (s: number | null) => (s === null ? '–' : `${Math.round(s * 100)} %`)
const drawing = (shade: unknown) => shade as Shade
</script>

<template>
  <main id="main" class="history stack">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <template v-if="data">
      <div class="row">
        <h1>{{ data.name }}: its records</h1>
        <span class="push"></span
        ><RouterLink class="btn" :to="{ name: 'scale', params: { scale: props.scale } }">To its sheet</RouterLink>
      </div>
      <p v-if="data.total > records.length" class="small quiet">
        The newest {{ records.length }} of {{ data.total }} records.
      </p>
      <p v-if="!records.length" class="quiet">No record yet. Close a job on it, and it stands here.</p>
      <section v-if="data.drift" class="drift">
        <DriftLine
          :drift="data.drift"
          :adjusted="data.records.filter((r) => r.adjusted).map((r) => r.closed_at.slice(0, 10))"
        />
        <p class="small quiet">○ as found, ● as left, ▲ adjusted; the shade is the tolerance, the dashes 80 % of it</p>
        <p data-testid="drift">
          {{ data.drift.says
          }}<template v-if="data.drift.between">
            The band of 90 % meets it from {{ data.drift.between[0] ?? 'now' }} to
            {{ data.drift.between[1] ?? 'far off' }}.</template
          >
        </p>
      </section>
      <table v-if="records.length">
        <thead>
          <tr>
            <th scope="col">Beside</th>
            <th scope="col">Record</th>
            <th scope="col">Closed</th>
            <th scope="col">Outcome</th>
            <th scope="col" class="right">As found, of the tolerance</th>
            <th scope="col" class="right">As left</th>
            <th scope="col" class="after">Adjusted</th>
            <th scope="col">Its weights, as they are known now</th>
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
                  :aria-label="`Put ${r.number} beside another`"
              /></label>
            </td>
            <td>
              <RouterLink class="figure" :to="{ name: 'record', params: { job: r.job } }">{{ r.number }}</RouterLink>
            </td>
            <td>{{ dayText(r.closed_at) }}</td>
            <td><VerdictMark :verdict="outcomeVerdict(r.outcome)" :word="outcomeWord(r.outcome)" /></td>
            <td class="figure right">{{ share(r.found_share) }}</td>
            <td class="figure right">{{ share(r.left_share) }}</td>
            <td class="after">{{ r.adjusted ? 'yes' : 'no' }}</td>
            <td class="small">
              <span v-if="!r.weights" class="quiet">none named</span
              ><span v-else-if="!r.doubts.length" class="quiet"
                >{{ r.weights === 1 ? '1 weight, nothing' : `${r.weights} weights, nothing` }} against it</span
              >
              <ul v-else class="doubt">
                <li v-for="d in r.doubts" :key="d">{{ d }}</li>
              </ul>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="beside.length === 2">
        <RouterLink
          class="btn btn-next"
          :to="{ name: 'compare', query: { one: beside[1]?.job, other: beside[0]?.job } }"
          >Every figure of {{ beside[1]?.number }} beside {{ beside[0]?.number }}</RouterLink
        >
      </p>
      <section v-if="beside.length === 2" class="beside" aria-label="Two records side by side">
        <figure v-for="r in beside" :key="r.job">
          <figcaption>
            <strong class="figure">{{ r.number }}</strong> {{ dayText(r.closed_at) }}: found {{ share(r.found_share) }},
            left {{ share(r.left_share) }} of the tolerance
          </figcaption>
          <ErrorChart v-if="r.shade" :shade="drawing(r.shade)" />
        </figure>
      </section>
      <section v-if="data.earlier.length" class="stack tight">
        <h2>Before this workshop kept its records here</h2>
        <p class="small quiet">Imported results: shown for comparison, signed by nobody here, no records.</p>
        <table data-testid="earlier">
          <thead>
            <tr>
              <th scope="col">Date</th>
              <th scope="col" class="right">Load</th>
              <th scope="col" class="right">Error</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(e, i) in data.earlier" :key="i">
              <td class="figure">{{ dayText(e.day) }}</td>
              <td class="figure right">{{ e.load.value }} {{ e.load.unit }}</td>
              <td class="figure right">{{ e.error.value }} {{ e.error.unit }}</td>
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
