<script setup lang="ts">
import { figure } from '../words'
import { percent, rounded } from '../ui/format'
import type { BudgetView } from '../api/types'
import type { Text } from '../words'

// The uncertainty of one error: what it is made of, as bars of the variance.
defineProps<{ budget: BudgetView; outside: Text | null }>()
</script>

<template>
  <section class="budget" :aria-label="$t('budget-bars-uncertainty-budget')">
    <h3>
      {{ $t('budget-bars-uncertainty') }} <span class="figure">U = {{ figure(budget.expanded_text) }}</span>
      <span class="quiet small figure">k = {{ rounded(budget.k, 2) }}</span>
    </h3>
    <table>
      <tbody>
        <tr v-for="line in budget.lines.filter((l) => l.u_d > 0)" :key="String(line.name)">
          <th scope="row">{{ line.name }}</th>
          <td class="figure right">{{ rounded(line.u_d, 3) }} d</td>
          <td class="bar"><span :style="{ width: `${line.share * 100}%` }"></span></td>
          <td class="figure right">{{ percent(line.share) }} %</td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      <strong>{{ budget.helps }}</strong>
    </p>
    <p v-for="n in budget.notes" :key="String(n)" class="small quiet">{{ n }}</p>
    <p v-if="outside" class="small">
      {{ $t('budget-bars-outside-the-tolerance-with-a') }} <span class="figure">{{ outside }}</span>.
    </p>
  </section>
</template>

<style scoped>
.budget {
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
h3 {
  margin-bottom: 0.3rem;
}
th {
  font-weight: 500;
}
.bar {
  width: 34%;
}
.bar span {
  display: block;
  height: 0.7rem;
  background: var(--shade-ink);
  min-width: 1px;
}
</style>
