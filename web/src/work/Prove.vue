<script setup lang="ts">
import { computed, ref } from 'vue'
import type { LiveView } from '../api/types'
import VerdictMark from '../parts/VerdictMark.vue'
import DecisionForm from './DecisionForm.vue'
import CheckTabs from './CheckTabs.vue'
import DiagnosisPanel from './DiagnosisPanel.vue'
import LivePanel from './LivePanel.vue'
import PracticePanel from './PracticePanel.vue'
import NextPieces from './NextPieces.vue'
import ReadingForm from './ReadingForm.vue'
import ReadingTable from './ReadingTable.vue'
import ShadeSide from './ShadeSide.vue'
import TestForm from './TestForm.vue'
import WorkFrame from './WorkFrame.vue'
import type { Planned } from './planned'
import { useJob } from './useJob'
import { outcomeVerdict, outcomeWord } from './words'

defineProps<{ live: LiveView | null; practice: boolean }>()
const job = useJob()
const planned = ref<Planned | null>(null)
const selected = ref<string | null>(null)
const part = ref('loads')
const tests = computed(() => a.value?.proof.tests.filter((t) => t.test === part.value) ?? [])
const zeros = computed(() => a.value?.proof.tests.filter((t) => t.test === 'zero_return' && t.done) ?? [])
const a = computed(() => job.assessment.value)
const open = computed(
  () => !job.frozen.value && Boolean(a.value && (a.value.adjust.saved || a.value.adjust.left_alone)),
)
</script>

<template>
  <WorkFrame stage="prove">
    <template v-if="a">
      <LivePanel v-if="live && open" :live="live" />
      <CheckTabs v-if="open" v-model="part" :phase="a.proof" />
      <TestForm v-if="open && tests.length" stage="prove" :tests="tests" :phase="a.proof" :live="live" />
      <NextPieces
        v-if="open && !tests.length && a.proof.lacks.length"
        :job="job.id"
        :entries="a.entries.length"
        @planned="planned = $event"
      />
      <ReadingForm
        v-if="open && !tests.length"
        stage="prove"
        :phase="a.proof"
        :live="live"
        :planned="a.proof.lacks.length ? planned : null"
      />
      <p v-if="!open && !job.frozen.value" class="note">
        Nothing to prove yet: adjust it, or record that it is left alone.
      </p>
      <ReadingTable
        v-if="a.proof.readings.length"
        :readings="a.proof.readings"
        :selected="selected"
        @select="selected = selected === $event ? null : $event"
      />
      <p class="row" role="status">
        <VerdictMark :verdict="outcomeVerdict(a.outcome)" :word="outcomeWord(a.outcome)" /><span class="small">{{
          a.proof.says
        }}</span>
      </p>
      <p v-for="z in zeros" :key="z.pad" class="small">{{ zeros.length > 1 ? `Pad ${z.pad}: ` : '' }}{{ z.says }}</p>
    </template>
    <template #side>
      <ShadeSide v-model:selected="selected" />
      <DiagnosisPanel stage="prove" />
      <DecisionForm />
      <PracticePanel v-if="practice && !job.frozen.value" />
      <section v-if="a && open">
        <h2>Loads worth putting on</h2>
        <ul class="wanted small">
          <li v-for="w in a.proof.wanted" :key="`${w.pad} ${w.load.value}${w.way}`" :class="{ done: w.done }">
            <span class="figure"
              >{{ a.sheet.pads && a.sheet.pads > 1 ? `pad ${w.pad}: ` : '' }}{{ w.way === 'down' ? '↓ ' : ''
              }}{{ w.load.value }} {{ w.load.unit }}</span
            ><span class="quiet">{{ w.done ? 'done' : w.why }}</span>
          </li>
        </ul>
      </section>
    </template>
  </WorkFrame>
</template>

<style scoped>
.wanted li {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  border-bottom: 1px solid var(--rule-2);
  padding: 0.2rem 0;
}
.done .figure {
  color: var(--ink-2);
}
</style>
