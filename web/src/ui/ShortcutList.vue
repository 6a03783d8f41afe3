<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { ref } from 'vue'
import { onKey, strokes } from '../state/keys'

const show = ref(false)
onKey('list', () => (show.value = true))
</script>

<template>
  <Dialog v-model:visible="show" modal :header="$t('shortcut-list-keys')" dismissable-mask>
    <table>
      <tbody>
        <tr v-for="s in strokes" :key="s.says">
          <th scope="row" class="figure">{{ s.label ? $t(s.label) : s.keys.join('  ') }}</th>
          <td>{{ $t(s.says) }}</td>
        </tr>
      </tbody>
    </table>
  </Dialog>
</template>
