<script setup lang="ts">
import { figure } from '../words'
import { rounded } from '../ui/format'
import { computed, ref } from 'vue'
import { useDiagnosis } from '../api/judgement'
import CauseChart from '../drawings/CauseChart.vue'
import { useJob } from './useJob'
import { asksForLoad } from './useLoads'

// What is wrong, as far as the readings tell; and what each choice would do to the errors.
const props = defineProps<{ stage: 'as_found' | 'prove' }>()
const job = useJob()
const a = computed(() => job.assessment.value)
const { data } = useDiagnosis(job.id, props.stage, () => a.value?.entries.length ?? 0)
const open = ref(false)
// While the list of loads goes on, its next load is what is next: two at once would be none.
const listed = computed(() => asksForLoad(a.value, props.stage))
const first = computed(() => data.value?.diagnosis?.ranked[0])
const which = computed(() => data.value?.diagnosis?.ranked.find((r) => r.which)?.which ?? '')
const readings = computed(
  () => (props.stage === 'as_found' ? a.value?.as_found.readings : a.value?.proof.readings) ?? [],
)
function loadOf(entry: string): string {
  return readings.value.find((r) => r.entry === entry)?.load_text ?? ''
}
const odd = computed(() =>
  (data.value?.diagnosis?.odd ?? []).map((entry) => readings.value.find((r) => r.entry === entry)).filter((r) => !!r),
)
const sign = (d: number) => `${d > 0 ? '+' : ''}${rounded(d, 1)} d`
</script>

<template>
  <section v-if="data?.diagnosis" class="diagnosis" :aria-label="$t('diagnosis-panel-what-is-wrong')">
    <h2>
      {{ $t('diagnosis-panel-what-is-wrong')
      }}<template v-if="data.pad"> {{ $t('diagnosis-panel-with-pad-pad', { pad: data.pad }) }}</template>
    </h2>
    <p class="says" aria-live="polite" data-testid="diagnosis">{{ data.diagnosis.says }}</p>
    <p v-for="r in odd" :key="r.entry" class="note next small" data-testid="odd-reading">
      {{ $t('diagnosis-panel-read-again-shown', { load: figure(r.load_text), shown: figure(r.shown_text) }) }}
    </p>
    <template v-if="first">
      <p v-if="data.diagnosis.act_says" class="small" data-testid="act">
        {{ $t('diagnosis-panel-to-do') }} {{ data.diagnosis.act_says }}
      </p>
      <p v-if="first.cause !== 'sound' && data.diagnosis.told" class="small">{{ first.can }} {{ first.cannot }}</p>
      <p v-if="which" class="small" data-testid="which-weight">{{ which }}</p>
      <p v-if="data.diagnosis.next && !listed" class="note next small">
        <strong>{{ $t('diagnosis-panel-next') }}</strong> {{ data.diagnosis.next.says }}
      </p>
    </template>
    <p v-if="data.choices" class="small" data-testid="advice">{{ data.choices.says }}</p>
    <button type="button" class="btn btn-bare more" :aria-expanded="open" @click="open = !open">
      {{ open ? $t('diagnosis-panel-fold') : $t('diagnosis-panel-why-and-what-else-it') }}
    </button>
    <template v-if="open">
      <ol class="causes">
        <li v-for="r in data.diagnosis.ranked" :key="`${r.cause} ${r.and ?? ''}`">
          <p class="row tight">
            <span class="share"><span :style="{ width: `${r.probability * 100}%` }"></span></span
            ><span class="figure">{{ r.probability_text }}</span> <strong>{{ r.label }}</strong>
          </p>
          <p v-if="r.again" class="small">{{ r.again }}</p>
          <p v-for="w in r.why" :key="w.entry" class="small quiet figure">
            {{
              $t('diagnosis-panel-entry-error-d-by-this', {
                entry: loadOf(w.entry),
                error_d: sign(w.error_d),
                by_cause_d: sign(w.by_cause_d),
              })
            }}
          </p>
          <CauseChart
            v-if="r.shows.length > 2"
            :shows="r.shows"
            :label="String(r.label)"
            :names="r.shows.map((s) => `${loadOf(s.entry)}: ${sign(s.error_d)}`)"
          />
        </li>
      </ol>
      <p class="small">
        <RouterLink :to="{ name: 'priors' }">{{ $t('diagnosis-panel-how-this-workshop-judges-priors') }}</RouterLink>
      </p>
      <table v-if="data.choices" class="small">
        <thead>
          <tr>
            <th scope="col">{{ $t('diagnosis-panel-errors-after') }}</th>
            <th v-for="p in data.choices.ways[0]?.points" :key="p.load_text" scope="col" class="figure right">
              {{ figure(p.load_text) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in data.choices.ways" :key="String(w.label)" :class="{ best: w.best }">
            <th scope="row">{{ w.label }}</th>
            <td v-for="p in w.points" :key="p.load_text" class="figure right" :class="{ out: !p.within }">
              {{ sign(p.error_d) }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.diagnosis {
  border-top: 2px solid var(--ink);
  padding-top: 0.6rem;
  display: flex;
  flex-direction: column;
  gap: 0.35rem;
  overflow-x: auto;
}
.says {
  font-size: 1.15rem;
  font-weight: 650;
}
.next {
  border-left-color: var(--next);
}
.more {
  align-self: flex-start;
  padding-left: 0;
}
.causes li {
  border-bottom: 1px solid var(--rule-2);
  padding: 0.25rem 0;
}
.share {
  width: 4.5rem;
  height: 0.7rem;
  background: var(--rule-2);
  flex: none;
  align-self: center;
}
.share span {
  display: block;
  height: 100%;
  background: var(--ink);
}
.best th,
.best td {
  font-weight: 700;
  background: var(--shade-2);
}
.out {
  color: var(--light-ink);
  font-weight: 700;
  text-decoration: underline;
}
</style>
