<script setup lang="ts">
import Button from 'primevue/button'
import type { Direction } from '../../api/types'
import { onKey } from '../../state/keys'

// Which direction the load goes and on which pad it stands; what books the reading stands beside it.
const direction = defineModel<Direction>('direction', { required: true })
const pad = defineModel<number>('pad', { required: true })
defineProps<{ pads: number }>()
onKey('direction', () => (direction.value = direction.value === 'up' ? 'down' : 'up'))
</script>

<template>
  <div class="field">
    <span id="direction-label" class="label"
      >{{ $t('reading-form-direction') }}
      <span class="quiet plain">(<span class="figure">*</span> {{ $t('reading-form-turns-it') }}</span
      ><template v-if="pads > 1">
        ·
        <label
          >{{ $t('reading-form-pad') }}
          <select v-model="pad" class="pad" :aria-label="$t('found-setup-pad')">
            <option v-for="n in pads" :key="n" :value="n">{{ n }}</option>
            <option :value="0">{{ $t('reading-form-all-together') }}</option>
          </select></label
        ></template
      ></span
    >
    <div class="direction" role="group" aria-labelledby="direction-label">
      <Button type="button" :aria-pressed="direction === 'up'" @click="direction = 'up'">{{
        $t('reading-form-increasing')
      }}</Button>
      <Button type="button" :aria-pressed="direction === 'down'" @click="direction = 'down'">{{
        $t('reading-form-decreasing')
      }}</Button>
      <slot></slot>
    </div>
  </div>
</template>

<style scoped>
.direction {
  display: flex;
}
.direction :deep(.btn) {
  min-height: 3.5rem;
}
.direction .btn + .btn:not(.go) {
  border-left: none;
}
.direction :deep(.go) {
  margin-left: 1rem;
  min-width: 11.5rem;
}
/* On a phone the button that books it takes the whole width, under the thumb. */
@media (max-width: 40rem) {
  .direction {
    flex-wrap: wrap;
    row-gap: 0.5rem;
  }
  .direction :deep(.btn:not(.go)) {
    flex: 1 1 0;
  }
  .direction :deep(.go) {
    margin-left: 0;
    flex: 1 0 100%;
  }
}
.plain {
  font-weight: 400;
}
.pad {
  font: inherit;
  background: var(--sheet);
  color: var(--ink);
  border: 1.5px solid var(--ink-2);
  border-radius: 3px;
  min-height: 1.8rem;
}
</style>
