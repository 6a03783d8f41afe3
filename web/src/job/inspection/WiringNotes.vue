<script setup lang="ts">
import { useJob } from '../useJob'

const job = useJob()
</script>

<template>
  <section class="wires" :aria-label="$t('inspection-wiring-card')">
    <h3>{{ $t('inspection-wiring-card') }}</h3>
    <p v-if="job.assessment.value?.wiring" class="small">{{ job.assessment.value.wiring }}</p>
    <ul v-if="job.assessment.value?.sheet.wiring?.length" class="figure small">
      <li v-for="w in job.assessment.value.sheet.wiring" :key="w">{{ w }}</li>
    </ul>
    <p v-else class="small quiet">
      {{ $t('inspection-no-wire-is-noted-yet') }}
    </p>
  </section>
</template>

<style scoped>
.wires {
  border-left: 4px solid var(--shade);
  padding-left: 0.8rem;
}
.wires ul {
  columns: 2;
}
</style>
