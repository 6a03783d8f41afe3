<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted } from 'vue'
import RefusalNote from '../../ui/RefusalNote.vue'
import TextField from '../../ui/TextField.vue'
import { useEntry } from '../useEntry'

// A fault that adjusting cannot cure: what was done about it, or why the work goes on.
const reason = defineModel<string>({ required: true })
const { item } = defineProps<{ item: string }>()
const emit = defineEmits<{ settled: [] }>()
const entry = useEntry()
onMounted(() => document.getElementById('settle-reason')?.focus())

async function settle(how: 'repaired' | 'overruled'): Promise<void> {
  if (await entry.enter({ kind: 'fault_settled', item, how, reason: reason.value })) {
    reason.value = ''
    emit('settled')
  }
}
</script>

<template>
  <form class="stack" @submit.prevent="settle('repaired')">
    <RefusalNote :failure="entry.general(['reason'])" />
    <TextField
      id="settle-reason"
      v-model="reason"
      :label="$t('inspection-what-was-done-or-why')"
      :wrong="entry.wrong('reason')"
    />
    <div class="row">
      <slot></slot>
      <Button type="submit" class="btn-next" :disabled="entry.blocked.value">{{ $t('inspection-repaired') }}</Button>
      <Button type="button" :disabled="entry.blocked.value" @click="settle('overruled')">{{
        $t('inspection-overrule')
      }}</Button>
    </div>
  </form>
</template>
