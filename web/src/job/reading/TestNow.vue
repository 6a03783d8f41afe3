<script setup lang="ts">
import type { TestView } from '../../api/types'

// Which place or weighing of a test is next; `place`: none where every place is read.
defineProps<{ test: TestView; place: TestView['positions'][number]['place'] | null }>()
</script>

<template>
  <p v-if="test.test === 'eccentricity'" class="place" aria-live="polite">
    <template v-if="place === null">{{ $t('test-form-every-place-is-read-tap') }}</template><template v-else
      >{{ $t('test-form-now') }} <strong data-testid="spot">{{ place }}</strong></template
    >
  </p>
  <p v-else-if="test.test === 'repeatability'" class="place" aria-live="polite">
    <template v-if="test.done >= test.wanted">{{ $t('test-form-as-many-as-are-asked') }}</template><template v-else
      >{{ $t('test-form-weighing') }} <strong class="figure">{{ test.done + 1 }}</strong> {{ $t('test-form-of') }}
      <span class="figure">{{ test.wanted }}</span></template
    >
  </p>
</template>

<style scoped>
.place {
  font-size: 1.25rem;
}
</style>
