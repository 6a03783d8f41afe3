<script setup lang="ts">
import { verbatim } from '../words'
import { computed, ref, watch } from 'vue'
import { runMachine } from '../api/profiles'
import type { KeyAct, MachineView, Profile } from '../api/types'

// A virtual indicator to be tried key by key: it obeys the profile, nothing else.
const props = defineProps<{
  profile: Profile
  what: { profile?: string; text?: string; job?: string }
  weight?: string
}>()
const acts = ref<KeyAct[]>([])
const view = ref<MachineView | null>(null)
const wrong = ref('')
const held = ref('')
const onScreen = computed(() => props.profile.menu.style === 'touch')
const keypad = computed(() => props.profile.number.style === 'keypad')
const switchName = computed(() => props.profile.way_in.map((w) => (w.act === 'switch' ? w.name : '')).find(Boolean))

async function run(): Promise<void> {
  try {
    view.value = await runMachine(props.what, acts.value)
    wrong.value = ''
  } catch (error) {
    wrong.value = error instanceof Error ? error.message : String(error)
  }
}
// What hands do waits for the answer to what they did before: fingers are quicker than the
// network, and whether a key is held or pressed depends on whether the machine is on by then.
let turn: Promise<void> = Promise.resolve()
function inTurn(what: () => Promise<void>): void {
  turn = turn.then(what)
}
function again(): void {
  inTurn(async () => {
    acts.value = []
    held.value = ''
    await run()
  })
}
watch(() => JSON.stringify(props.what), again, { immediate: true })

function act(choose: (now: MachineView | null) => KeyAct | null): void {
  inTurn(async () => {
    const one = choose(view.value)
    if (!one) return
    acts.value = [...acts.value, one]
    await run()
  })
}
function key(name: string): void {
  act((now) => {
    if (now?.on !== false) return { act: 'key', key: name }
    held.value = name
    return null
  })
}
function power(): void {
  act((now) => {
    const holding = held.value
    held.value = ''
    if (now?.on) return { act: 'power_off' }
    return holding ? { act: 'hold_at_power_on', key: holding } : { act: 'power_on' }
  })
}
</script>

<template>
  <section class="machine" :aria-label="$t('virtual-indicator-virtual-indicator')">
    <p class="display figure" role="status" data-testid="machine-display">
      <template v-if="view && view.blinks !== null"
        ><span v-for="(c, i) in view.display" :key="i" :class="{ blinks: i === view.blinks }">{{ c }}</span></template
      >
      <template v-else>{{ view?.display || '\u00A0' }}</template>
    </p>
    <p class="small quiet" data-testid="machine-says">
      {{ wrong || view?.says }}{{ view?.unsaved ? ' ' + $t('virtual-indicator-not-kept-yet') : '' }}
    </p>
    <div v-if="onScreen && view?.buttons.length" class="buttons">
      <button v-for="b in view.buttons" :key="b" type="button" class="btn" @click="key(b)">{{ b }}</button>
    </div>
    <div class="keys">
      <button
        v-for="(cap, name) in profile.keys"
        :key="name"
        type="button"
        class="key"
        :aria-pressed="held === name || undefined"
        :data-key="name"
        @click="key(String(name))"
      >
        {{ cap }}
      </button>
    </div>
    <div v-if="keypad" class="keys pad">
      <button
        v-for="n in ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0']"
        :key="n"
        type="button"
        class="key"
        :data-key="n"
        @click="key(n)"
      >
        {{ n }}
      </button>
    </div>
    <div class="row tight hands">
      <button type="button" class="btn" @click="power">
        {{
          view?.on === false
            ? held
              ? $t('virtual-indicator-power-on-holding-held', { held: profile.keys?.[held] ?? held })
              : $t('virtual-indicator-power-on')
            : $t('virtual-indicator-power-off')
        }}
      </button>
      <button v-if="switchName" type="button" class="btn" @click="act((now) => ({ act: 'switch', on: !now?.switch }))">
        {{ switchName }} {{ view?.switch ? $t('virtual-indicator-back') : $t('virtual-indicator-to-set-up') }}
      </button>
      <button v-if="profile.save.how === 'button'" type="button" class="btn" @click="act(() => ({ act: 'button' }))">
        {{ profile.save.button }}
      </button>
      <button
        type="button"
        class="btn"
        @click="act((now) => (now?.loaded ? { act: 'unload' } : { act: 'load', what: verbatim(weight ?? 'weight') }))"
      >
        {{
          view?.loaded
            ? $t('virtual-indicator-empty-the-platform')
            : $t('virtual-indicator-put-weight-on', { weight: weight ?? $t('virtual-indicator-a-weight') })
        }}
      </button>
      <button type="button" class="btn btn-bare" @click="again">
        {{ $t('virtual-indicator-from-the-beginning') }}
      </button>
    </div>
    <p v-if="view?.on === false" class="small quiet">
      {{ $t('virtual-indicator-off-a-key-that-is') }}
    </p>
    <dl class="kept small">
      <div v-for="k in view?.kept ?? []" :key="`${k.meaning}${k.pad}${k.point}`">
        <dt>
          {{ k.label }}{{ k.point > 1 ? ` ${k.point}` : '' }}{{ k.pad > 1 ? $t('common-pad-pad', { pad: k.pad }) : '' }}
        </dt>
        <dd class="figure" :data-kept="k.meaning">{{ k.text }}</dd>
      </div>
    </dl>
  </section>
</template>

<style scoped>
.machine {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
.display {
  background: var(--ink);
  color: var(--paper);
  font-size: 2rem;
  font-weight: 600;
  padding: 0.5rem 0.9rem;
  text-align: right;
  border-radius: 3px;
  min-height: 3.6rem;
  letter-spacing: 0.06em;
}
.blinks {
  text-decoration: underline;
  text-decoration-thickness: 4px;
  text-underline-offset: 0.2em;
}
.keys,
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
}
.pad {
  display: grid;
  grid-template-columns: repeat(5, 3.2rem);
}
.key {
  font: inherit;
  font-weight: 650;
  min-width: 3.2rem;
  min-height: var(--target);
  border: 1.5px solid var(--ink);
  border-bottom-width: 4px;
  border-radius: 5px;
  background: var(--sheet);
  color: var(--ink);
  cursor: pointer;
  padding: 0 0.7rem;
}
.key:active {
  border-bottom-width: 1.5px;
  transform: translateY(2px);
}
.key[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.hands {
  border-top: 1px solid var(--rule);
  padding-top: 0.6rem;
}
.kept {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(9.5rem, 1fr));
  gap: 0.2rem 1rem;
  border-top: 1px solid var(--rule);
  padding-top: 0.5rem;
}
.kept div {
  display: flex;
  justify-content: space-between;
  gap: 0.5rem;
}
dt {
  color: var(--ink-2);
}
</style>
