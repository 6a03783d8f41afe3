<script setup lang="ts">
import { computed, ref } from 'vue'
import type { KeyAct, Schema } from '../api/types'
import SeenForm from './SeenForm.vue'
import { useTeaching } from './useTeaching'

// Each thing that is done to get into the menu, with what it shows then.
const props = defineProps<{ acts: KeyAct[]; stands: Schema<'TeachingExpected'> | null }>()
const { session } = useTeaching()
const act = ref<KeyAct | null>(null)
const held = ref('')
const on = computed(() => props.stands?.screen.is !== 'off')
const keys = computed(() => [
  ...(session.value?.keys ?? []),
  ...(session.value?.keypad ? ['0', '1', '2', '3', '4', '5', '6', '7', '8', '9'] : []),
])
const told = (a: KeyAct): string => ('key' in a ? a.key : a.act)
function does(what: KeyAct): void {
  act.value = { ...what }
}
</script>

<template>
  <h2>{{ $t('ask-way-in-go-into-its-menu') }}</h2>
  <p>{{ $t('ask-way-in-say-each-thing') }}</p>
  <p v-if="acts.length" class="small quiet">{{ $t('ask-way-in-last-time', { acts: acts.map(told).join(', ') }) }}</p>
  <p class="small quiet">{{ on ? $t('ask-way-in-it-is-on') : $t('ask-way-in-it-is-off') }}</p>
  <div class="row" :aria-label="$t('ask-way-in-what-was-done')">
    <button v-if="on" type="button" class="btn" data-act="power_off" @click="does({ act: 'power_off' })">
      {{ $t('ask-way-in-switched-off') }}
    </button>
    <button v-else type="button" class="btn" data-act="power_on" @click="does({ act: 'power_on' })">
      {{ $t('ask-way-in-switched-on') }}
    </button>
    <button type="button" class="btn" data-act="switch_on" @click="does({ act: 'switch', on: true })">
      {{ $t('ask-way-in-switch-moved') }}
    </button>
    <button type="button" class="btn" data-act="switch_off" @click="does({ act: 'switch', on: false })">
      {{ $t('ask-way-in-switch-back') }}
    </button>
    <template v-if="!on">
      <label class="row tight"
        >{{ $t('ask-way-in-switched-on-holding') }}
        <select
          v-model="held"
          class="input short"
          name="teach-held"
          @change="held && does({ act: 'hold_at_power_on', key: held })"
        >
          <option value=""></option>
          <option v-for="key in session?.keys" :key="key" :value="key">{{ key }}</option>
        </select></label
      >
    </template>
    <template v-else>
      <button
        v-for="key in keys"
        :key="key"
        type="button"
        class="btn cap"
        :data-press="key"
        @click="does({ act: 'key', key })"
      >
        {{ key }}
      </button>
    </template>
  </div>
  <template v-if="act">
    <p class="then">{{ $t('ask-way-in-then', { what: told(act) }) }}</p>
    <SeenForm :key="session?.events.length" :act="act" :expected="[]" :stands="stands" />
  </template>
</template>

<style scoped>
.cap {
  border-bottom-width: 4px;
}
.short {
  width: 8rem;
}
.then {
  font-weight: 600;
}
</style>
