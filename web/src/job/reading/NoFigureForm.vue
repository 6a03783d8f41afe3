<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import type { Draft, Direction } from '../../api/types'
import { useEntry } from '../useEntry'

// A display that shows no figure is a reading too: what it does instead is entered at its load.
const props = defineProps<{
  stage: 'as_found' | 'prove'
  unit: string
  load: string
  direction: Direction
  pad: number | null
}>()
const emit = defineEmits<{ entered: [] }>()
const entry = useEntry()
const what = ref<'blank' | 'over' | 'under' | 'text' | 'flickers'>('blank')
const text = ref('')
const from = ref('')
const to = ref('')
const display = computed(() => {
  if (what.value === 'text') return { display: 'text' as const, text: text.value }
  if (what.value === 'flickers') return { display: 'flickers' as const, from: from.value, to: to.value }
  return { display: what.value }
})
async function submit(): Promise<void> {
  const draft: Draft = {
    kind: 'no_figure_read',
    stage: props.stage,
    load: props.load,
    display: display.value,
    direction: props.direction,
    pad: props.pad,
  }
  if (!(await entry.enter(draft))) return
  text.value = ''
  from.value = ''
  to.value = ''
  emit('entered')
}
</script>

<template>
  <details class="small">
    <summary>{{ $t('no-figure-form-the-display-shows-no-figure') }}</summary>
    <form class="row tight" @submit.prevent="submit">
      <select
        v-model="what"
        class="input short"
        :aria-label="$t('no-figure-form-what-the-display-does')"
        data-testid="no-figure"
      >
        <option value="blank">{{ $t('no-figure-form-it-is-blank') }}</option>
        <option value="over">{{ $t('no-figure-form-dashes-over') }}</option>
        <option value="under">{{ $t('no-figure-form-dashes-under') }}</option>
        <option value="text">{{ $t('no-figure-form-a-text-or-an-error') }}</option>
        <option value="flickers">{{ $t('no-figure-form-it-goes-to-and-fro') }}</option>
      </select>
      <InputText
        v-if="what === 'text'"
        v-model="text"
        class="input"
        :aria-label="$t('no-figure-form-what-it-shows')"
        :placeholder="$t('no-figure-form-as-it-stands-there')"
      />
      <template v-if="what === 'flickers'">
        <label
          >{{ $t('no-figure-form-between') }} <InputText v-model="from" class="input figure narrow" inputmode="decimal"
        /></label>
        <label
          >{{ $t('no-figure-form-and') }} <InputText v-model="to" class="input figure narrow" inputmode="decimal" />
          {{ unit }}</label
        >
      </template>
      <Button type="submit" :disabled="entry.blocked.value">{{
        $t('no-figure-form-enter-for-load-unit', { load: load || '0', unit })
      }}</Button>
    </form>
    <p v-if="entry.failure.value" class="wrong" role="alert">
      {{ [entry.failure.value.message, entry.failure.value.problem?.what_to_do].filter(Boolean).join('. ') }}
    </p>
  </details>
</template>

<style scoped>
.short {
  width: 13rem;
}
.narrow {
  width: 6rem;
}
</style>
