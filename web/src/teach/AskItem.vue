<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Asked } from '../api/teaching'
import { useTeaching } from './useTeaching'

// What an item means; whoever does not know leaves a gap.
type Meaning = NonNullable<Asked<'item'>['guess']>
const props = defineProps<{ asked: Asked<'item'> }>()
const { tell, sending } = useTeaching()
const { data: words } = useVocabulary()
const meaning = ref<Meaning | 'list' | 'unknown' | ''>(props.asked.guess ?? '')
const point = ref(props.asked.point)
const answer = ref('')
const name = computed(() => props.asked.item.at(-1) ?? '')
const chosen = computed(() => words.value?.meanings.find((m) => m.value === meaning.value))
/** Span points that an item may be for. */
const MOST_POINTS = 9
function submit(): Promise<void> {
  return tell({
    about: 'item',
    item: props.asked.item,
    meaning: chosen.value?.value ?? null,
    point: chosen.value?.has_points ? point.value : 1,
    answer: meaning.value === 'other' ? answer.value.trim() || null : null,
    list: meaning.value === 'list',
  })
}
</script>

<template>
  <form class="stack" @submit.prevent="submit">
    <h2>{{ $t('ask-item-what-does-it-mean', { name }) }}</h2>
    <div class="row end">
      <div class="field">
        <label for="teach-meaning">{{ $t('ask-item-it-means') }}</label>
        <select id="teach-meaning" v-model="meaning" class="input">
          <option value="" disabled></option>
          <option v-for="m in words?.meanings ?? []" :key="m.value" :value="m.value">{{ m.label }}</option>
          <option value="list">{{ $t('ask-item-a-list') }}</option>
          <option value="unknown">{{ $t('ask-item-not-known') }}</option>
        </select>
      </div>
      <div v-if="chosen?.has_points" class="field">
        <label for="teach-point">{{ $t('ask-item-point') }}</label>
        <select id="teach-point" v-model="point" class="input figure short">
          <option v-for="n in MOST_POINTS" :key="n" :value="n">{{ n }}</option>
        </select>
      </div>
      <div v-if="meaning === 'other'" class="field">
        <label for="teach-answer">{{ $t('ask-item-entered-every-time') }}</label>
        <input id="teach-answer" v-model="answer" class="input figure short" autocomplete="off" />
      </div>
      <Button type="submit" class="btn-next" :disabled="sending.busy.value || !meaning">{{
        $t('common-enter')
      }}</Button>
    </div>
    <p v-if="chosen?.captures" class="small quiet">{{ $t('ask-item-is-not-opened') }}</p>
    <p v-if="meaning === 'unknown'" class="small quiet">{{ $t('ask-item-a-gap') }}</p>
  </form>
</template>

<style scoped>
.end {
  align-items: end;
}
.short {
  width: 7rem;
}
</style>
