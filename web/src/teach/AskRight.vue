<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Asked } from '../api/teaching'
import { useTeaching } from './useTeaching'

// What was understood of an item, read back.
const props = defineProps<{ asked: Asked<'right'> }>()
const { tell, sending } = useTeaching()
const { data: words } = useVocabulary()
const label = computed(() => words.value?.meanings.find((m) => m.value === props.asked.meaning)?.label)
const right = (yes: boolean) => tell({ about: 'right', item: props.asked.item, right: yes })
</script>

<template>
  <h2>{{ $t('ask-right-is-this-right') }}</h2>
  <dl class="read">
    <dt class="figure">{{ asked.item.join(' › ') }}</dt>
    <dd>
      {{ label }}<template v-if="asked.point > 1">, {{ $t('ask-item-point') }} {{ asked.point }}</template>
    </dd>
    <template v-for="o in asked.options" :key="o.shows">
      <dt class="figure">{{ o.shows }}</dt>
      <dd class="figure">{{ o.is || '?' }}</dd>
    </template>
    <template v-if="asked.field">
      <dt>{{ $t('ask-field-digits') }}</dt>
      <dd class="figure">{{ asked.field.digits }}</dd>
      <dt>{{ $t('ask-field-point') }}</dt>
      <dd>
        {{
          asked.field.with_point
            ? $t('ask-field-point-typed')
            : asked.field.decimals === null
              ? $t('ask-field-point-setup')
              : $t('ask-right-decimals', { decimals: asked.field.decimals })
        }}
      </dd>
    </template>
  </dl>
  <div class="row">
    <Button type="button" class="btn-next" :disabled="sending.busy.value" @click="right(true)">{{
      $t('ask-right-yes')
    }}</Button>
    <Button type="button" :disabled="sending.busy.value" @click="right(false)">{{ $t('ask-right-no') }}</Button>
  </div>
</template>

<style scoped>
.read {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0.2rem 1.5rem;
}
dt {
  font-weight: 600;
}
</style>
