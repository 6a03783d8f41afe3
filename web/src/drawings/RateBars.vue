<script setup lang="ts">
import { computed } from 'vue'
import type { Rate } from '../api/types'
import { figure } from '../words'

// Shares found outside, one a row: the bar is the share, the thin line the range in which the true share
// lies with 95 %. A long line says that there are too few records to tell.
const props = defineProps<{ rates: Rate[]; of: string; beside: Rate[] }>()
// The axis ends where every line still fits, also those of the tables beside it, so that they compare.
const top = computed(
  () => [0.05, 0.1, 0.2, 0.5].find((t) => [...props.rates, ...props.beside].every((r) => (r.high ?? 0) <= t)) ?? 1,
)
const width = (share: number | null) => `${((share ?? 0) / top.value) * 100}%`
const mark = (part: number) => figure(String(Math.round(part * top.value * 1000) / 10))
</script>

<template>
  <table class="rates">
    <thead>
      <tr>
        <th scope="col">{{ of }}</th>
        <th scope="col" class="bar">
          <div class="scale">
            <span>0</span><span>{{ mark(0.5) }}</span
            ><span>{{ mark(1) }} %</span>
          </div>
        </th>
        <th scope="col">{{ $t('rate-bars-found-out-of-tolerance') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rates" :key="String(r.label)">
        <th scope="row">{{ r.label }}</th>
        <td class="bar">
          <div v-if="r.share !== null" class="track">
            <span class="share" :style="{ width: width(r.share) }"></span
            ><span class="range" :style="{ left: width(r.low), width: width((r.high ?? 0) - (r.low ?? 0)) }"></span>
          </div>
        </td>
        <td class="figure">{{ r.says }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  table-layout: fixed;
}
th:first-child {
  width: 20%;
}
th[scope='row'] {
  font-weight: 500;
  font-size: 1rem;
  color: var(--ink);
}
.bar {
  width: 42%;
  padding-right: 2.5rem;
}
.scale,
.track {
  position: relative;
}
.scale {
  height: 1.2rem;
}
.scale span {
  font-family: var(--figure);
  font-weight: 400;
  position: absolute;
  transform: translateX(-50%);
  white-space: nowrap;
}
.scale span:nth-child(1) {
  left: 0;
  transform: none;
}
.scale span:nth-child(2) {
  left: 50%;
}
.scale span:nth-child(3) {
  left: 100%;
}
.track {
  height: 1.1rem;
  background:
    linear-gradient(var(--rule), var(--rule)) center / 1px 100% no-repeat,
    linear-gradient(var(--rule), var(--rule)) left / 1px 100% no-repeat,
    linear-gradient(var(--rule), var(--rule)) right / 1px 100% no-repeat;
}
.share {
  position: absolute;
  inset: 0.15rem auto 0.15rem 0;
  background: var(--shade);
  border-right: 2px solid var(--shade-ink);
}
.range {
  position: absolute;
  top: 50%;
  height: 0;
  border-top: 1.5px solid var(--ink);
}
.range::before,
.range::after {
  content: '';
  position: absolute;
  top: -0.3rem;
  height: 0.5rem;
  border-left: 1.5px solid var(--ink);
}
.range::after {
  right: 0;
}
.figure {
  white-space: normal;
}
</style>
