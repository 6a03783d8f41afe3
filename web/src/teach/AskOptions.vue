<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import type { Asked } from '../api/teaching'
import { useTeaching } from './useTeaching'

// What each option stands for: as it would be written on a plate, such as kg, 0.2 or 3.
const props = defineProps<{ asked: Asked<'options'> }>()
const { tell, sending } = useTeaching()
const options = ref(props.asked.options.map((o) => ({ ...o })))
</script>

<template>
  <form class="stack" @submit.prevent="tell({ about: 'options', item: asked.item, options })">
    <h2>{{ $t('ask-options-what-do-they-stand-for', { name: asked.item.at(-1) ?? '' }) }}</h2>
    <p class="small quiet">{{ $t('ask-options-as-on-a-plate') }}</p>
    <div v-for="(o, i) in options" :key="o.shows" class="row">
      <label :for="`teach-option-${i}`" class="figure shows">{{ o.shows }}</label>
      <input :id="`teach-option-${i}`" v-model="o.is" class="input figure short" autocomplete="off" />
      <p v-if="sending.wrong(`option-${o.shows}`)" class="wrong" role="alert">
        {{ sending.wrong(`option-${o.shows}`) }}
      </p>
    </div>
    <Button type="submit" class="btn-next start" :disabled="sending.busy.value">{{ $t('common-enter') }}</Button>
  </form>
</template>

<style scoped>
.shows {
  min-width: 6rem;
  font-weight: 600;
}
.short {
  width: 9rem;
}
.start {
  align-self: flex-start;
}
</style>
