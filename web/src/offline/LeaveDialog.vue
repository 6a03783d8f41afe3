<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { held } from './held'

defineProps<{ show: boolean }>()
const emit = defineEmits<{ stay: []; leave: [] }>()
</script>

<template>
  <Dialog :visible="show" modal :closable="false" :header="$t('leave-not-all-is-sent', { no: held.unsent.value })">
    <p>{{ $t('leave-what-happens') }}</p>
    <br />
    <div class="row">
      <Button type="button" class="btn-next" autofocus @click="emit('stay')">{{ $t('leave-stay') }}</Button><Button
        type="button"
        @click="emit('leave')"
        >{{ $t('leave-sign-out-all-the-same') }}</Button
      >
    </div>
  </Dialog>
</template>
