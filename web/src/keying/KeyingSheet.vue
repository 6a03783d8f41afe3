<script setup lang="ts">
import { computed } from 'vue'
import type { askKeying } from '../api/profiles'
import type { Assessment } from '../api/types'
import { maxByD } from '../ui/format'
import KeyMoves from './KeyMoves.vue'

// The keying sheet itself: one A4 sheet, however long.
type Keyed = Awaited<ReturnType<typeof askKeying>>
const { sheet } = defineProps<{ assessment: Assessment; keyed: Keyed; sheet: NonNullable<Keyed['sheet']> }>()
// On one sheet of paper a caution stands where it applies first.
const steps = computed(() => {
  const told = new Set<string>()
  return sheet.steps.map((s) => ({
    ...s,
    cautions: s.cautions.filter((c) => !told.has(String(c)) && told.add(String(c))),
  }))
})
</script>

<template>
  <article class="page">
    <header>
      <div>
        <p class="small quiet">{{ $t('keying-keying-sheet-name', { name: keyed.profile.name }) }}</p>
        <h1>{{ assessment.sheet.name }}, {{ assessment.sheet.serial }}</h1>
      </div>
      <p class="figure">
        {{ maxByD(assessment.setup.setup.max, assessment.setup.setup.d) }}<br /><span class="small quiet">{{
          $t('keying-presses-presses-naive-without-thinking', {
            presses: sheet.presses,
            naive: sheet.naive,
          })
        }}</span>
      </p>
    </header>
    <p v-for="c in sheet.cautions" :key="String(c)" class="small caution">{{ c }}</p>
    <ol :class="['steps', { long: sheet.steps.length > 12, 'very-long': sheet.steps.length > 20 }]">
      <li v-for="s in steps" :key="s.number">
        <p>
          <span class="figure number">{{ s.number }}</span> <strong>{{ s.title }}</strong><span
            v-if="s.platform"
            class="small"
          >
            · {{ s.platform }}</span
          >
        </p>
        <KeyMoves :step="s" />
        <p v-for="c in s.cautions" :key="String(c)" class="small caution">{{ c }}</p>
      </li>
    </ol>
  </article>
</template>

<style scoped>
.page {
  background: var(--sheet);
  padding: 1.2rem 1.5rem;
  border: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
}
header {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  align-items: end;
  border-bottom: 2px solid var(--ink);
  padding-bottom: 0.5rem;
}
header > :last-child {
  text-align: right;
}
.steps {
  display: grid;
  grid-template-columns: 1fr;
  gap: 0.55rem 1.5rem;
}
.steps > li {
  break-inside: avoid;
  border-bottom: 1px solid var(--rule-2);
  padding-bottom: 0.4rem;
}
.number {
  display: inline-block;
  min-width: 1.6rem;
  color: var(--ink-2);
}
.caution {
  border-left: 6px double var(--caution);
  padding-left: 0.5rem;
}
@media print {
  .page {
    border: none;
    padding: 0;
    gap: 0.4rem;
  }
  .steps {
    columns: 2;
    column-gap: 6mm;
    display: block;
    font-size: 8.2pt;
  }
  .steps > li {
    margin-bottom: 1.2mm;
    padding-bottom: 0.8mm;
  }
  .steps.long {
    font-size: 7.2pt;
  }
  .steps.very-long {
    columns: 3;
    font-size: 6.3pt;
    column-gap: 4mm;
  }
  .steps.very-long :deep(.moves) {
    gap: 0.4mm;
  }
  .steps.very-long :deep(li) {
    grid-template-columns: minmax(3rem, auto) 1fr auto minmax(3rem, auto);
    gap: 1mm;
  }
  .steps :deep(.display) {
    background: none;
    color: #000;
    border: 1px solid #000;
  }
}
</style>
