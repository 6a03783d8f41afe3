<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, settled } from '../api/client'
import VerdictMark from '../ui/VerdictMark.vue'
import { dayText, outcomeVerdict, outcomeWord } from '../ui/format'
import { vCards } from '../ui/cards'

// What a customer sees by their own link: their scales, when each is due, and their papers.
const props = defineProps<{ token: string }>()
const { data, error, isPending } = useQuery({
  queryKey: ['own', props.token],
  queryFn: () => settled(api.GET('/api/own/{token}', { params: { path: { token: props.token } } })),
  retry: false,
})
</script>

<template>
  <main id="main" class="own stack">
    <p class="small quiet">{{ $t('common-ombret') }}</p>
    <p v-if="isPending" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <template v-else-if="error">
      <h1>{{ $t('owner-this-link-opens-nothing-any') }}</h1>
      <p>{{ $t('owner-ask-the-workshop-that-gave') }}</p>
    </template>
    <template v-else-if="data">
      <h1>{{ data.customer }}</h1>
      <p class="quiet">{{ $t('owner-scales-and-papers-kept-by', { workshop: data.workshop }) }}</p>
      <h2>{{ $t('common-scales') }}</h2>
      <p v-if="!data.scales.length" class="quiet">{{ $t('owner-none') }}</p>
      <table v-else v-cards>
        <thead>
          <tr>
            <th scope="col">{{ $t('common-scale') }}</th>
            <th scope="col">{{ $t('common-place') }}</th>
            <th scope="col">{{ $t('common-serial') }}</th>
            <th scope="col">{{ $t('owner-last-outcome') }}</th>
            <th scope="col">{{ $t('common-due') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(s, i) in data.scales" :key="i">
            <td>
              <strong>{{ s.name }}</strong>
            </td>
            <td>{{ s.place }}</td>
            <td class="figure">{{ s.serial }}</td>
            <td>{{ s.last_outcome ? outcomeWord(s.last_outcome) : '–' }}</td>
            <td class="figure" :class="{ wrong: s.overdue }">{{ s.due ? dayText(s.due) : '–' }}</td>
          </tr>
        </tbody>
      </table>
      <h2>{{ $t('owner-papers') }}</h2>
      <p v-if="!data.records.length" class="quiet">{{ $t('owner-none-yet') }}</p>
      <table v-else v-cards>
        <tbody>
          <tr v-for="r in data.records" :key="r.job">
            <td class="figure">
              <a :href="`/api/own/${token}/papers/${r.job}`" download>{{ r.number }}</a>
            </td>
            <td class="figure">{{ dayText(r.signed_at) }}</td>
            <td>{{ r.scale }}</td>
            <td>
              <VerdictMark v-if="outcomeVerdict(r.outcome) !== 'none'" :verdict="outcomeVerdict(r.outcome)" />
              <template v-else>{{ outcomeWord(r.outcome) }}</template>
            </td>
            <td class="small">{{ r.certificate ? $t('owner-calibration-certificate') : $t('owner-work-report') }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </main>
</template>

<style scoped>
.own {
  padding: 2rem 1.25rem;
  max-width: 60rem;
  margin: 0 auto;
  width: 100%;
}
</style>
