<script setup lang="ts">
import type { PlanReply } from '../api/types'
import { percent, massText } from '../ui/format'
import GradeWord from '../ui/GradeWord.vue'
import WorkingList from '../ui/WorkingList.vue'

// Loads that the weights reach only with material in their place, and what that costs in certainty.
defineProps<{ plan: NonNullable<PlanReply['plan']['substitution']> }>()
</script>

<template>
  <section class="stack tight" data-testid="substitution">
    <h2>{{ $t('loads-with-material-in-place-of') }}</h2>
    <p class="small">
      <GradeWord :grade="plan.grade">{{
        plan.grade === 'sound'
          ? $t('loads-sound')
          : plan.grade === 'caution'
            ? $t('loads-caution')
            : $t('loads-not-taken')
      }}</GradeWord>: {{ plan.says }}.
    </p>
    <table class="small">
      <thead>
        <tr>
          <th scope="col" class="right">{{ $t('loads-load-about') }}</th>
          <th scope="col" class="right">{{ $t('loads-substitutions') }}</th>
          <th scope="col" class="right">{{ $t('loads-u-of-the-load') }}</th>
          <th scope="col" class="right">{{ $t('loads-2u-against-mpe') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in plan.steps" :key="t.substitutions">
          <td class="figure right">{{ massText(t.load) }}</td>
          <td class="figure right">{{ t.substitutions }}</td>
          <td class="figure right">{{ t.u.toPrecision(2) }} {{ t.load.unit }}</td>
          <td class="figure right">{{ percent(t.share) }} %</td>
        </tr>
      </tbody>
    </table>
    <details>
      <summary>{{ $t('calculators-the-working') }}</summary>
      <WorkingList :workings="[plan.working]" />
    </details>
  </section>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: var(--target);
}
</style>
