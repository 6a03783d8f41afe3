<script setup lang="ts">
import { computed, ref } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Session } from '../api/teaching'
import { say } from '../words'
import { useTeaching } from './useTeaching'

// Every step, the newest first; what does not fit is marked, and each can be said anew.
const { session, view, takeBack, correct, sending } = useTeaching()
const { data: words } = useVocabulary()
const clash = computed(() => view.value?.learnt.contradiction ?? null)
const editing = ref<number | null>(null)
const text = ref('')
type Happened = Session['events'][number]

function done(e: Happened): string {
  if (e.event === 'seen') return 'key' in e.act ? e.act.key : say(`step-list-act-${e.act.act.replaceAll('_', '-')}`)
  if (e.about === 'message') return e.message.text
  const item = 'item' in e ? e.item.join(' › ') : ''
  return item || say('step-list-said')
}
function then(e: Happened): string {
  if (e.event === 'seen') return e.display
  if (e.about === 'item') {
    const label = words.value?.meanings.find((m) => m.value === e.meaning)?.label
    return label ? String(label) : say(e.list ? 'ask-item-a-list' : 'ask-item-not-known')
  }
  if (e.about === 'message') {
    const label = words.value?.messages.find((m) => m.value === e.message.meaning)?.label
    return e.message.says ?? (label ? String(label) : '')
  }
  if (e.about === 'right') return say(e.right ? 'ask-right-yes' : 'ask-right-no')
  return e.about === 'options' ? e.options.map((o) => `${o.shows} = ${o.is || '?'}`).join(', ') : ''
}
const steps = computed(() => (session.value?.events ?? []).map((event, at) => ({ event, at })).reverse())
function edit(at: number, shown: string): void {
  editing.value = at
  text.value = shown
}
async function keep(at: number): Promise<void> {
  await correct(at, text.value.trim())
  editing.value = null
}
</script>

<template>
  <section class="stack tight">
    <div class="row">
      <h2>{{ $t('step-list-steps') }}</h2>
      <button
        v-if="steps.length && !clash"
        type="button"
        class="btn"
        :disabled="sending.busy.value"
        data-testid="undo"
        @click="takeBack()"
      >
        {{ $t('step-list-take-back') }}
      </button>
    </div>
    <ol class="steps small">
      <li
        v-for="{ event, at } in steps"
        :key="at"
        :class="{ clash: clash?.event === at, earlier: clash?.earlier === at }"
        :data-step="at"
      >
        <span class="figure quiet no">{{ at + 1 }}</span>
        <strong class="figure">{{ done(event) }}</strong>
        <span aria-hidden="true">→</span>
        <form v-if="editing === at" class="row tight" @submit.prevent="keep(at)">
          <input v-model="text" class="input figure short" :aria-label="$t('step-list-it-showed')" autocomplete="off" />
          <button type="submit" class="btn">{{ $t('common-enter') }}</button>
        </form>
        <span v-else class="figure">{{ then(event) }}</span>
        <strong v-if="clash?.event === at" class="wrong">{{ $t('step-list-does-not-fit') }}</strong>
        <strong v-if="clash?.earlier === at" class="wrong">{{ $t('step-list-with-this') }}</strong>
        <button
          v-if="event.event === 'seen' && editing !== at"
          type="button"
          class="btn btn-bare push"
          @click="edit(at, event.display)"
        >
          {{ $t('step-list-it-showed-something-else') }}
        </button>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.steps {
  max-height: 22rem;
  overflow: auto;
}
li {
  display: flex;
  gap: 0.7rem;
  align-items: center;
  border-bottom: 1px solid var(--rule-2);
  border-left: 5px solid transparent;
  padding-left: 0.4rem;
}
.clash,
.earlier {
  border-left-color: var(--light-ink);
}
.no {
  min-width: 2.5rem;
}
.short {
  width: 9rem;
}
</style>
