<script setup lang="ts">
import type { KitFileRead } from '../api/types'

// What is wrong in a file that is imported whole or not at all, each at its row.
defineProps<{ errors: KitFileRead['errors']; row: string }>()
</script>

<template>
  <div v-if="errors.length" class="note note-wrong" role="alert" data-testid="row-errors">
    <p>
      <strong>{{ $t('row-errors-nothing-is-imported-while-are', { count: errors.length }) }}</strong>
    </p>
    <ul class="errors">
      <li v-for="(e, i) in errors" :key="i">
        <span class="figure">{{ row }} {{ e.row }}</span
        >{{ e.column ? `, ${e.column}` : '' }}: {{ e.says }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.errors {
  max-height: 30vh;
  overflow: auto;
}
</style>
