<script setup lang="ts">
import { figure } from '../../words'
import type { PhaseView } from '../../api/types'

// Loads at which the display showed no figure.
defineProps<{ lines: PhaseView['no_figures'] }>()
</script>

<template>
  <ul v-if="lines.length" class="small" data-testid="no-figures">
    <li v-for="l in lines" :key="l.entry" class="note note-caution" :class="{ void: !l.counts }">
      <span class="figure">{{ figure(l.load_text) }}</span>{{
        $t('no-figure-list-decreasing-no-figure-says', {
          decreasing: l.direction === 'down' ? $t('no-figure-list-decreasing') : '',
          says: l.says,
        })
      }}<template v-if="l.counts"
        >. <strong v-if="l.means">{{ l.means }}</strong> {{ l.then }}</template
      >
    </li>
  </ul>
</template>

<style scoped>
.void {
  text-decoration: line-through;
}
</style>
