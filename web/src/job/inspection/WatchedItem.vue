<script setup lang="ts">
import type { LiveView } from '../../api/types'
import LivePanel from '../LivePanel.vue'

// Items that the live reading watches: zero left alone, pushes, corners.
defineProps<{ item: string; live: LiveView }>()
</script>

<template>
  <template v-if="['zero', 'push', 'corners'].includes(item)">
    <LivePanel :live="live" />
    <ol v-if="live.pushes.length" class="pushes" aria-live="polite" data-testid="pushes">
      <li v-for="(p, i) in live.pushes.slice(-4)" :key="i" :class="p.in_order ? 'fine' : 'odd'">{{ p.says }}</li>
    </ol>
    <p v-if="item === 'corners' && live.rises" class="small" data-testid="rises">{{ live.rises }}</p>
    <p v-if="item === 'zero'" class="small" data-testid="zero-held">
      {{ $t('inspection-zero-held-for') }} <span class="figure">{{ Math.floor(live.zero_held_s) }} s</span
      >{{ $t('inspection-ten-are-asked-for') }}
    </p>
    <p v-else-if="!live.pushes.length" class="quiet small">{{ $t('inspection-push-it-and-let-go') }}</p>
  </template>
</template>

<style scoped>
.fine {
  color: var(--shade-ink);
}
.odd {
  color: var(--light-ink);
  font-weight: 600;
}
</style>
