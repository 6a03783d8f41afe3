<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { onBeforeUnmount, onMounted, ref } from 'vue'

const show = ref(false)
const keys = [
  ['Enter', 'the next action (the filled button)'],
  ['1  2  3', 'at the checklist: in order, fault, not applicable'],
  ['*', 'at a reading: going up or coming down'],
  ['+', 'at a live reading: take every load of the run by itself'],
  ['Alt + 1 … 6', 'go to a stage'],
  ['d', 'in a job: what does the display show?'],
  ['/', 'search among the scales'],
  ['Esc', 'close what lies on top'],
  ['?', 'this list'],
]

function typing(event: KeyboardEvent): boolean {
  const at = event.target
  return at instanceof HTMLElement && (at.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName))
}
function pressed(event: KeyboardEvent): void {
  if (event.key === '?' && !typing(event)) show.value = true
}
onMounted(() => addEventListener('keydown', pressed))
onBeforeUnmount(() => removeEventListener('keydown', pressed))
</script>

<template>
  <Dialog v-model:visible="show" modal header="Keys" dismissable-mask>
    <table>
      <tbody>
        <tr v-for="[key, does] in keys" :key="key">
          <th scope="row" class="figure">{{ key }}</th>
          <td>{{ does }}</td>
        </tr>
      </tbody>
    </table>
  </Dialog>
</template>
