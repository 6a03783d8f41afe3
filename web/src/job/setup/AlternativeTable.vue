<script setup lang="ts">
import { figure } from '../../words'
import type { SetupJudgement } from '../../api/types'
import { gradeWord, rounded, massText } from '../../ui/format'

defineProps<{ alternatives: SetupJudgement['alternatives']; chosen: string; frozen: boolean }>()
defineEmits<{ take: [d: string] }>()
</script>

<template>
  <section>
    <h2>{{ $t('alternative-table-divisions-for-this-max') }}</h2>
    <table>
      <thead>
        <tr>
          <th scope="col" class="right">{{ $t('calculators-division') }}</th>
          <th scope="col" class="right">n</th>
          <th v-if="alternatives[0]?.uV !== null" scope="col" class="right">{{ $t('calculators-signal') }}</th>
          <th scope="col">{{ $t('alternative-table-judged') }}</th>
          <th>
            <span class="sr-only">{{ $t('alternative-table-take') }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="alt in alternatives" :key="alt.d.value" :class="{ chosen: alt.d.value === chosen }">
          <td class="figure right">{{ massText(alt.d) }}</td>
          <td class="figure right">{{ alt.n }}</td>
          <td v-if="alt.uV !== null" class="figure right">{{ rounded(alt.uV, 2) }} µV</td>
          <td>
            <span class="overall" :class="alt.grade">{{ gradeWord(alt.grade) }}</span>
          </td>
          <td class="right">
            <button
              v-if="!frozen"
              type="button"
              class="btn btn-bare"
              :aria-label="$t('alternative-table-take-d-unit', { d: figure(alt.d.value), unit: alt.d.unit })"
              @click="$emit('take', alt.d.value)"
            >
              {{ $t('alternative-table-take') }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.overall {
  font-weight: 700;
}
.overall.sound {
  color: var(--shade-ink);
}
.overall.caution {
  color: var(--caution);
}
.overall.refuse {
  color: var(--light-ink);
}
.chosen td {
  background: var(--shade-2);
}
td {
  padding-top: 0.1rem;
  padding-bottom: 0.1rem;
}
td:nth-last-child(2) {
  padding-left: 0.8rem;
}
td .btn {
  min-height: 1.9rem;
  padding: 0 0.5rem;
}
</style>
