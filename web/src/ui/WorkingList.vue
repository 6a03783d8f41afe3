<script setup lang="ts">
import { figure } from '../words'
import type { Working } from '../api/types'

defineProps<{ workings: Working[] }>()
</script>

<template>
  <div class="stack">
    <section v-for="working in workings" :key="String(working.name)" class="working">
      <h3>{{ working.name }}</h3>
      <p class="figure formula">{{ working.formula }}</p>
      <table>
        <tbody>
          <tr v-for="f in working.figures" :key="String(f.symbol)">
            <th scope="row" class="figure">{{ f.symbol }}</th>
            <td class="small quiet">{{ f.meaning }}</td>
            <td class="figure right">{{ figure(f.value) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="figure result">{{ working.result }}</p>
      <p class="small quiet">{{ working.source }}</p>
    </section>
  </div>
</template>

<style scoped>
.working {
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
.formula,
.result {
  white-space: normal;
  overflow-wrap: anywhere;
}
.result {
  font-weight: 700;
  padding-top: 0.35rem;
}
td.figure {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
