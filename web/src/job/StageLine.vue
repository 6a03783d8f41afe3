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
/* On a phone a strip of six marks, the current one with its name. */
@media (max-width: 40rem) {
  ol {
    display: flex;
  }
  li {
    flex: 0 0 auto;
  }
  li:has([aria-current='step']) {
    flex: 1 1 0;
    min-width: 0;
  }
  a {
    padding: 0.2rem 0.45rem;
    min-height: max(var(--target), 2.75rem);
    justify-content: center;
  }
  a[aria-current='step'] {
    justify-content: flex-start;
  }
  a:not([aria-current='step']) > span {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  a[aria-current='step'] .small {
    display: block;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  a[aria-current='step'] > span {
    min-width: 0;
  }
}
</style>
