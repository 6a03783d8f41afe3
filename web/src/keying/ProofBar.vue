<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { prove, useProofOfJob } from '../api/profiles'
import type { KeyStep } from '../api/types'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

// Whoever keyed by the sheet says whether it was right: that is what proves a profile, and what mends it.
const props = defineProps<{ job: string; steps: KeyStep[] }>()
const { data: said } = useProofOfJob(props.job)
const works = computed(() => session.has('technician'))
const { busy, tried, wrong, general } = useTried()
const differs = ref(false)
const item = ref('')
const shown = ref('')
const note = ref('')
const asItSaid = computed(() => said.value?.find((p) => p.as_said))
const others = computed(() => said.value?.filter((p) => !p.as_said) ?? [])
// The items by what the sheet says that the display shows, once each.
const items = computed(() => [
  ...new Set(props.steps.flatMap((s) => s.moves.map((m) => m.then.trim())).filter(Boolean)),
])

const right = () => tried(() => prove(props.job, { said: 'as_it_said' }))
async function enter(): Promise<void> {
  const body = { said: 'differed_here' as const, item: item.value, shown: shown.value, note: note.value }
  if (await tried(() => prove(props.job, body))) {
    differs.value = false
    item.value = shown.value = note.value = ''
  }
}
</script>

<template>
  <section class="proof stack tight no-print" data-testid="proof" :aria-label="$t('proof-bar-was-it-right')">
    <h2>{{ $t('proof-bar-was-it-right') }}</h2>
    <p v-if="asItSaid" class="note note-good">{{ $t('proof-bar-as-it-said-by', { name: asItSaid.said_by }) }}</p>
    <ul v-if="others.length">
      <li v-for="p in others" :key="p.id" class="note note-caution">
        {{ $t('proof-bar-differed-at', { item: p.item }) }}
        <span v-if="p.shown" class="figure">{{ p.shown }}</span> {{ p.note }}
      </li>
    </ul>
    <RefusalNote :failure="general(['item', 'shown', 'note'])" />
    <div v-if="works" class="row">
      <Button v-if="!asItSaid" type="button" :disabled="busy" @click="right">{{ $t('proof-bar-as-it-said') }}</Button>
      <Button v-if="!differs" type="button" :disabled="busy" @click="differs = true">{{
        $t('proof-bar-differed-here')
      }}</Button>
    </div>
    <form v-if="differs" class="stack tight" @submit.prevent="enter">
      <div class="field">
        <label for="proof-item">{{ $t('proof-bar-where') }}</label>
        <select id="proof-item" v-model="item" class="input figure" :aria-invalid="Boolean(wrong('item'))">
          <option v-for="i in items" :key="i" :value="i">{{ i }}</option>
        </select>
        <p v-if="wrong('item')" class="wrong" role="alert">{{ wrong('item') }}</p>
      </div>
      <TextField id="proof-shown" v-model="shown" :label="$t('proof-bar-it-showed')" :wrong="wrong('shown')" figure />
      <TextField id="proof-note" v-model="note" :label="$t('proof-bar-what-was-different')" :wrong="wrong('note')" />
      <div class="row">
        <Button type="submit" class="btn-next" :disabled="busy">{{ $t('common-enter') }}</Button><Button
          type="button"
          class="btn-bare"
          :disabled="busy"
          @click="differs = false"
          >{{ $t('common-cancel') }}</Button
        >
      </div>
    </form>
  </section>
</template>

<style scoped>
.proof {
  border-top: 2px solid var(--rule);
  padding-top: 0.7rem;
}
</style>
