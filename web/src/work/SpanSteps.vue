<script setup lang="ts">
import type { Assessment } from '../api/types'

defineProps<{ view: Assessment['adjust']; step: string }>()
</script>

<template>
  <section>
    <h2>
      Zero and span<template v-if="view.pads.length">, pad {{ view.pad }}</template>
    </h2>
    <ol v-if="view.pads.length" class="pads small">
      <li v-for="p in view.pads" :key="p.pad" :class="{ done: p.done, here: p.pad === view.pad && !view.saved }">
        <strong>Pad {{ p.pad }}</strong> {{ p.says }}
      </li>
    </ol>
    <table>
      <tbody>
        <tr :class="{ now: step === 'zero' }">
          <th scope="row">Zero</th>
          <td class="figure right">{{ view.zero ? (view.zero_counts ?? 'captured') : '–' }}</td>
          <td class="small quiet">{{ view.zero_counts ? 'counts' : '' }}</td>
        </tr>
        <tr :class="{ now: step === 'weight' }">
          <th scope="row">Span weight</th>
          <td class="figure right">{{ view.weight ? `${view.weight.value} ${view.weight.unit}` : '–' }}</td>
          <td class="small quiet">{{ view.weight_share ? `${view.weight_share} of Max` : '' }}</td>
        </tr>
        <tr v-if="view.weight_digits">
          <th scope="row">keyed in as</th>
          <td class="figure right digits">{{ view.weight_digits }}</td>
          <td></td>
        </tr>
        <tr :class="{ now: step === 'span' }">
          <th scope="row">Span</th>
          <td class="figure right">{{ view.span ? (view.span_counts ?? 'captured') : '–' }}</td>
          <td class="small quiet">{{ view.span_counts ? 'counts' : '' }}</td>
        </tr>
        <tr
          v-for="p in view.points.filter((p) => p.weight.value !== '0' && p.weight.value !== view.weight?.value)"
          :key="p.weight.value"
        >
          <th scope="row">point {{ p.weight.value }} {{ p.weight.unit }}</th>
          <td class="figure right">{{ p.counts ?? 'captured' }}</td>
          <td class="small quiet">{{ p.straight ? `${p.straight} with one span` : '' }}</td>
        </tr>
        <tr :class="{ now: step === 'save' }">
          <th scope="row">Saved</th>
          <td class="right">{{ view.saved ? 'yes' : 'no' }}</td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.now th,
.now td {
  background: var(--shade-2);
}
.pads {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.2rem 1rem;
  padding: 0.4rem 0;
}
.pads .here {
  border-left: 4px solid var(--next);
  padding-left: 0.5rem;
}
.pads .done {
  color: var(--ink-2);
}
.digits {
  font-size: 1.3rem;
  letter-spacing: 0.12em;
  font-weight: 650;
}
</style>
