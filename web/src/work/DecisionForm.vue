<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import type { DecisionRule } from '../api/types'
import { useTyped } from '../state/typed'
import { useEntry } from './useEntry'
import { useJob } from './useJob'

// How the uncertainty enters the verdict; another than the sheet's needs a reason.
const job = useJob()
const entry = useEntry()
const view = computed(() => job.assessment.value?.decision)
const rules: { rule: DecisionRule; label: string }[] = [
  { rule: 'simple', label: 'simple: |E| within the tolerance' },
  { rule: 'guarded', label: 'guarded: |E| + U within it' },
  { rule: 'four_way', label: 'four-way: a guard on both sides' },
]
const chosen = ref<DecisionRule>(view.value?.rule ?? 'simple')
const reason = useTyped(() => `${job.id}.decision`)
async function choose(): Promise<void> {
  if (await entry.enter({ kind: 'decision_chosen', rule: chosen.value, reason: reason.value })) reason.value = ''
}
</script>

<template>
  <details v-if="view" class="decision">
    <summary>Verdict: {{ view.label }}</summary>
    <p v-if="view.caution" class="note note-caution small">{{ view.caution }}</p>
    <form v-if="!job.frozen.value" class="stack tight" @submit.prevent="choose">
      <label v-for="r in rules" :key="r.rule" class="check small"><input v-model="chosen" type="radio" name="decision" :value="r.rule" /> {{ r.label }}</label>
      <div class="row"><div class="field grow"><label for="decision-reason">Why for this job</label><InputText id="decision-reason" v-model="reason" :aria-invalid="Boolean(entry.wrong('reason'))" /><p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p></div><Button type="submit" :disabled="entry.blocked.value || chosen === view.rule">Judge so</Button></div>
    </form>
  </details>
</template>

<style scoped>
.decision { border-top: 1px solid var(--rule); padding-top: 0.4rem; }
summary { cursor: pointer; min-height: var(--target); font-weight: 600; }
.grow { flex: 1; }
.row { align-items: end; }
</style>
