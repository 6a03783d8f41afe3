<script setup lang="ts">
import type { Stage, StageView } from '../api/types'
import StageMark from './StageMark.vue'

defineProps<{ stages: StageView[]; job: string; current: Stage; next: Stage }>()
</script>

<template>
  <nav class="course no-print" :aria-label="$t('stage-line-stages-of-the-job')">
    <ol>
      <li v-for="(view, index) in stages" :key="view.stage">
        <RouterLink
          :to="{ name: 'job', params: { job, stage: view.stage } }"
          replace
          :aria-current="view.stage === current ? 'step' : undefined"
          :class="{ next: view.stage === next }"
          :title="$t('stage-line-alt-what', { what: index + 1 })"
        >
          <StageMark :state="view.state" />
          <span
            ><strong>{{ view.label }}</strong
            ><br /><span class="small">{{ view.says }}</span></span
          >
        </RouterLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.course {
  border-bottom: 1px solid var(--rule);
  background: var(--sheet);
}
ol {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
}
a {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  padding: 0.45rem 0.4rem 0.45rem 1.25rem;
  text-decoration: none;
  min-height: 3.4rem;
  border-bottom: 4px solid transparent;
  line-height: 1.2;
}
a:hover {
  background: var(--rule-2);
}
a[aria-current='step'] {
  border-bottom-color: var(--ink);
  background: var(--paper);
}
.small {
  color: var(--ink-2);
}
@media (max-width: 56rem) {
  ol {
    grid-template-columns: repeat(3, 1fr);
  }
}
</style>
