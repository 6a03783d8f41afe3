<script setup lang="ts">
import { figure, say } from '../words'
import { computed, ref, watch } from 'vue'
import { Failure } from '../api/client'
import { useFigures } from '../api/history'
import MonthColumns from '../drawings/MonthColumns.vue'
import RateBars from '../drawings/RateBars.vue'
import type { FiguresReply } from '../api/types'
import { dayText } from '../ui/format'

// What the records tell together. Every share is worked out by the server, with what chance makes of it.
const from = ref('')
const to = ref('')
const { data, error, isPending } = useFigures(from, to)
const wrong = computed(() => (error.value instanceof Failure ? error.value.problem?.field : undefined))
const first = ref('')
const last = ref('')
// The fields show the days that were counted until others are typed.
watch(
  data,
  (now) => {
    if (!now) return
    first.value = now.from
    last.value = now.to
  },
  { immediate: true },
)
const print = () => window.print()
const lists = (d: FiguresReply) => [
  {
    title: say('statistics-what-the-readings-told'),
    none: say('statistics-nothing-was-found-out-of'),
    rows: d.causes,
    note: say('statistics-of-the-scales-found-out'),
  },
  {
    title: say('statistics-what-looking-over-found'),
    none: say('statistics-no-fault-was-found'),
    rows: d.faults,
    note: say('statistics-faults-found-before-reading-of'),
  },
]
</script>

<template>
  <main id="main" class="figures stack">
    <div class="row head">
      <h1>{{ $t('router-figures-of-this-workshop') }}</h1>
      <span class="push"></span>
      <div class="field no-print">
        <label for="figures-from">{{ $t('common-from') }}</label><input
          id="figures-from"
          v-model="first"
          class="input"
          type="date"
          :aria-invalid="wrong === 'from'"
          @change="from = first"
        />
      </div>
      <div class="field no-print">
        <label for="figures-to">{{ $t('statistics-to') }}</label><input
          id="figures-to"
          v-model="last"
          class="input"
          type="date"
          :aria-invalid="wrong === 'to'"
          @change="to = last"
        />
      </div>
      <button type="button" class="btn no-print" @click="print">{{ $t('common-print') }}</button>
    </div>
    <p v-if="error" class="wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="quiet" role="status">{{ $t('statistics-counting') }}</p>
    <template v-if="data">
      <p class="lead" data-testid="figures-all">
        <strong class="figure">{{ data.all.says }}</strong>
        {{
          $t('statistics-were-found-out-of-tolerance', {
            records: data.records,
            from: dayText(data.from),
            to: dayText(data.to),
          })
        }}
      </p>
      <p v-if="!data.records" class="quiet">{{ $t('statistics-no-record-was-closed-in') }}</p>
      <template v-else>
        <section>
          <h2>{{ $t('statistics-by-month') }}</h2>
          <MonthColumns :months="data.months" />
          <p class="small quiet key">
            <span class="mark read"></span> {{ $t('statistics-read-as-found') }} <span class="mark outside"></span>
            {{ $t('statistics-of-these-out-of-tolerance') }}
          </p>
        </section>
        <section>
          <h2>{{ $t('statistics-by-kind') }}</h2>
          <RateBars :rates="data.kinds" :beside="data.ages" :of="$t('statistics-kind-of-scale')" />
        </section>
        <section>
          <h2>{{ $t('statistics-by-age') }}</h2>
          <RateBars :rates="data.ages" :beside="data.kinds" :of="$t('statistics-age-on-the-day')" />
        </section>
        <p class="small quiet">
          {{ $t('statistics-the-bar-is-the-share') }}
        </p>
        <div class="two">
          <section v-for="l in lists(data)" :key="l.title">
            <h2>{{ l.title }}</h2>
            <p class="small quiet">{{ l.note }}</p>
            <p v-if="!l.rows.length">{{ l.none }}</p>
            <table v-else>
              <tbody>
                <tr v-for="r in l.rows" :key="String(r.label)">
                  <th scope="row">{{ r.label }}</th>
                  <td class="figure right">{{ r.count }}</td>
                  <td class="bar"><span :style="{ width: `${r.share * 100}%` }"></span></td>
                  <td class="figure right">{{ figure(r.share_text) }}</td>
                </tr>
              </tbody>
            </table>
          </section>
        </div>
      </template>
    </template>
  </main>
</template>

<style scoped>
.figures {
  padding: 1rem 1.25rem 2rem;
  max-width: 76rem;
  gap: 1.4rem;
}
.head {
  align-items: end;
}
.lead {
  font-size: 1.15rem;
}
.lead .figure {
  white-space: normal;
}
.key {
  display: flex;
  gap: 0.5rem;
  align-items: center;
}
.mark {
  width: 1rem;
  height: 0.8rem;
  display: inline-block;
}
.mark.read {
  background: var(--shade);
}
.mark.outside {
  background: var(--light-ink);
  margin-left: 0.8rem;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2.5rem;
}
.two th {
  font-weight: 500;
  font-size: 1rem;
  color: var(--ink);
}
.bar {
  width: 30%;
  padding-left: 0.8rem;
}
.bar span {
  display: block;
  height: 0.8rem;
  background: var(--shade-ink);
  min-width: 1px;
}
section {
  break-inside: avoid;
}
@media (max-width: 56rem) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
