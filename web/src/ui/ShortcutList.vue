<script setup lang="ts">
import { say } from '../words'
import Dialog from 'primevue/dialog'
import { onBeforeUnmount, onMounted, ref } from 'vue'

const show = ref(false)
const keys = [
  [say('common-enter'), say('shortcut-list-the-next-action-the-filled')],
  ['1  2  3', say('shortcut-list-at-the-checklist-in-order')],
  ['*', say('shortcut-list-at-a-reading-going-up')],
  ['+', say('shortcut-list-at-a-live-reading-take')],
  [say('shortcut-list-alt-1-6'), say('shortcut-list-go-to-a-stage')],
  ['d', say('shortcut-list-in-a-job-what-does')],
  ['/', say('shortcut-list-search-among-the-scales')],
  [say('shortcut-list-esc'), say('shortcut-list-close-what-lies-on-top')],
  ['?', say('shortcut-list-this-list')],
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
  <Dialog v-model:visible="show" modal :header="$t('shortcut-list-keys')" dismissable-mask>
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
