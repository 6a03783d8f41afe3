<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '../api/types'
import type { Question } from '../api/teaching'
import AskField from './AskField.vue'
import AskItem from './AskItem.vue'
import AskOptions from './AskOptions.vue'
import AskRest from './AskRest.vue'
import AskRight from './AskRight.vue'
import AskWayIn from './AskWayIn.vue'
import SeenForm from './SeenForm.vue'
import { useTeaching } from './useTeaching'

// The one thing that is asked now.
const props = defineProps<{ question: Question; contradiction: Schema<'TeachingContradiction'> | null }>()
const { view, takeBack, sending } = useTeaching()
const stands = computed(() => view.value?.learnt.stands ?? null)
const q = computed(() => props.question)
</script>

<template>
  <section
    class="ask stack"
    aria-live="polite"
    data-testid="teach-ask"
    :aria-busy="sending.busy.value"
    :data-ask="contradiction ? 'contradiction' : q.ask"
  >
    <template v-if="contradiction">
      <h2>{{ $t('ask-card-that-does-not-fit') }}</h2>
      <p class="note note-wrong">{{ contradiction.says }}</p>
      <p>{{ contradiction.earlier === null ? $t('ask-card-correct-this-one') : $t('ask-card-correct-it-below') }}</p>
      <button type="button" class="btn btn-next start" :disabled="sending.busy.value" @click="takeBack()">
        {{ $t('ask-card-take-back') }}
      </button>
    </template>
    <AskWayIn v-else-if="q.ask === 'way_in'" :acts="q.acts" :stands="stands" />
    <template v-else-if="q.ask === 'press'">
      <p class="why">{{ q.why }}</p>
      <p v-if="q.act.act === 'key'" class="press" data-testid="press">
        {{ $t('ask-card-press') }} <kbd>{{ q.act.key }}</kbd>
      </p>
      <p v-else class="press">{{ $t('ask-card-switch-off') }}</p>
      <SeenForm :act="q.act" :expected="q.would_show" :stands="stands" />
    </template>
    <AskItem v-else-if="q.ask === 'item'" :key="q.item.join('/')" :asked="q" />
    <AskOptions v-else-if="q.ask === 'options'" :key="`o${q.item.join('/')}`" :asked="q" />
    <AskField v-else-if="q.ask === 'field'" :key="`f${q.item.join('/')}`" :asked="q" />
    <AskRight v-else-if="q.ask === 'right'" :key="`r${q.item.join('/')}`" :asked="q" />
    <template v-else-if="q.ask === 'nothing'">
      <h2>{{ $t('ask-card-learnt') }}</h2>
      <p>{{ $t('ask-card-learnt-says') }}</p>
    </template>
    <AskRest v-else :key="q.ask" :asked="q" />
  </section>
</template>

<style scoped>
.ask {
  border-top: 3px solid var(--ink);
  padding-top: 0.8rem;
}
.press {
  font-size: 1.7rem;
  font-weight: 600;
}
.why {
  color: var(--ink-2);
}
kbd {
  font: inherit;
  border: 2px solid var(--ink);
  border-bottom-width: 6px;
  border-radius: 6px;
  padding: 0.1rem 0.9rem;
}
.start {
  align-self: flex-start;
}
</style>
