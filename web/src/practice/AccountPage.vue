<script setup lang="ts">
import { computed } from 'vue'
import { say } from '../words'
import { useAccount } from '../api/practice'
import type { Account } from '../api/types'
import VerdictMark from '../ui/VerdictMark.vue'

const props = defineProps<{ job: string }>()
const { data, error } = useAccount(() => props.job)
type Line = Account['lines'][number]
const marks = computed<Record<Line['grade'], { verdict: 'within' | 'outside' | 'none'; word: string }>>(() => ({
  good: { verdict: 'within', word: say('account-good') },
  better: { verdict: 'none', word: say('account-could-be-better') },
  mistake: { verdict: 'outside', word: say('account-mistake') },
}))
</script>

<template>
  <main id="main" class="account stack">
    <div class="row no-print">
      <RouterLink class="btn btn-next" :to="{ name: 'practice' }">{{
        $t('account-to-the-lessons')
      }}</RouterLink><RouterLink class="btn" :to="{ name: 'job', params: { job: props.job, stage: 'look_over' } }">{{
        $t('common-to-the-job')
      }}</RouterLink>
    </div>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <template v-if="data">
      <h1>{{ data.says }}</h1>
      <p class="note">
        <strong>{{ $t('account-what-it-was') }}</strong> {{ data.hidden }}
        <strong>{{ $t('account-what-cures-it') }}</strong> {{ data.cure }}.
      </p>
      <table>
        <thead>
          <tr>
            <th scope="col">{{ $t('account-about') }}</th>
            <th scope="col">{{ $t('account-you-did') }}</th>
            <th scope="col">{{ $t('account-a-good-run') }}</th>
            <th scope="col">
              <span class="sr-only">{{ $t('common-verdict') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <template v-for="l in data.lines" :key="String(l.about)">
            <tr :data-testid="`account-${l.grade}`">
              <th scope="row">{{ l.about }}</th>
              <td>{{ l.did }}</td>
              <td>{{ l.good }}</td>
              <td><VerdictMark :verdict="marks[l.grade].verdict" :word="marks[l.grade].word" /></td>
            </tr>
            <tr v-if="l.cost">
              <td></td>
              <td colspan="3" class="cost">{{ $t('account-on-a-real-scale-cost', { cost: l.cost }) }}</td>
            </tr>
          </template>
        </tbody>
      </table>
      <p class="small quiet">{{ $t('account-this-is-practice-on-a') }}</p>
    </template>
  </main>
</template>

<style scoped>
.account {
  padding: 1rem 1.25rem 2rem;
  max-width: 74rem;
}
tbody th {
  color: var(--ink);
  white-space: nowrap;
  padding-right: 1.4rem;
}
td {
  max-width: 30rem;
}
.cost {
  color: var(--light-ink);
  font-weight: 600;
  border-bottom-width: 2px;
}
</style>
