<script setup lang="ts">
import type { SetupJudgement } from '../../api/types'
import WorkingList from '../../ui/WorkingList.vue'
import { gradeWord } from '../../ui/format'

defineProps<{ findings: SetupJudgement['findings'] }>()
</script>

<template>
  <ul>
    <li v-for="finding in findings" :key="finding.check">
      <details>
        <summary>
          <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true" :class="finding.grade ?? 'proposed'">
            <path v-if="finding.grade === 'refuse'" d="M2 2l12 12M14 2L2 14" />
            <path v-else-if="finding.grade === 'caution'" d="M5 1v14M11 1v14" />
            <path v-else d="M1 5h14v9H1z" class="solid" />
          </svg>
          <span
            ><strong>{{ gradeWord(finding.grade) }}</strong> · {{ finding.says }}</span
          >
        </summary>
        <WorkingList :workings="[finding.working]" />
      </details>
    </li>
  </ul>
</template>

<style scoped>
li {
  border-bottom: 1px solid var(--rule-2);
}
summary {
  display: flex;
  gap: 0.6rem;
  padding: 0.4rem 0;
  cursor: pointer;
  align-items: baseline;
  min-height: 2.2rem;
}
svg {
  flex: none;
  position: relative;
  top: 2px;
  stroke-width: 2.8;
  fill: none;
  stroke: currentColor;
}
.solid {
  fill: var(--shade);
  stroke: var(--shade-ink);
  stroke-width: 1.6;
}
.refuse {
  color: var(--light-ink);
}
.caution {
  color: var(--caution);
}
</style>
