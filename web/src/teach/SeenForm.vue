<script setup lang="ts">
import Button from 'primevue/button'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Schema } from '../api/types'
import type { Screen, Seen } from '../api/teaching'
import { sentLine } from './sent'
import { useTeaching } from './useTeaching'

// What the display shows after something was done: as expected by one press, else typed; Enter alone: as it stood.
type Shown = Schema<'TeachingExpected'>
const props = defineProps<{ act: Seen['act']; expected: Shown[]; stands: Shown | null }>()
const { see, sending } = useTeaching()
const { data: words } = useVocabulary()
const named = (screen: Screen): string => (screen.is === 'item' ? screen.lies : screen.is)
const screens = computed(() => new Map((words.value?.screens ?? []).map((screen) => [named(screen), screen])))
const display = ref('')
const sort = ref('')
const blinks = ref<number | null>(null)
const offered = ref('')
const buttons = ref('')
const field = ref<HTMLInputElement | null>(null)
const shows = computed(() => (sort.value === 'off' ? '' : display.value.trim() || (props.stands?.display ?? '')))
const hasDigits = computed(() => sort.value === 'number' || sort.value === 'code')
const hasButtons = computed(() => sort.value === 'buttons' || (sort.value === 'option' && buttons.value !== ''))
const same = computed(
  () =>
    props.stands !== null &&
    display.value.trim() === '' &&
    sort.value === named(props.stands.screen) &&
    blinks.value === props.stands.blinks,
)
/** As it stood, until something else is said. */
function again(): void {
  display.value = ''
  offered.value = ''
  sort.value = props.stands ? named(props.stands.screen) : ''
  blinks.value = props.stands?.blinks ?? null
  buttons.value = props.stands?.buttons.join(', ') ?? ''
  void nextTick(() => field.value?.focus())
}
watch(() => props.act, again)
onMounted(again)

function said(): Seen {
  const screen = screens.value.get(sort.value) ?? { is: 'off' as const }
  const list = buttons.value.split(',').map((b) => b.trim())
  return {
    act: props.act,
    display: shows.value,
    screen: screen.is === 'question' ? { is: 'question', offered: offered.value.trim() || null } : screen,
    blinks: hasDigits.value ? blinks.value : null,
    buttons: hasButtons.value ? list.filter(Boolean) : [],
  }
}
const submit = (): Promise<void> => see(same.value && props.stands ? { ...props.stands, act: props.act } : said())
</script>

<template>
  <form class="stack tight" @submit.prevent="submit">
    <div v-if="expected.length" class="row">
      <span>{{ expected.length > 1 ? $t('seen-form-which-of-these') : $t('seen-form-does-it-show') }}</span>
      <Button
        v-for="(e, i) in expected"
        :key="i"
        type="button"
        :class="expected.length === 1 ? 'btn-next figure' : 'figure'"
        :disabled="sending.busy.value"
        data-testid="expected"
        @click="see({ ...e, act })"
        >{{ e.display
        }}<template v-if="e.blinks !== null && expected.length > 1">
          {{ $t('seen-form-blinks', { at: e.blinks + 1 }) }}</template
        ></Button
      >
    </div>
    <div class="row end">
      <div class="field grow">
        <label for="seen-display">{{ $t('seen-form-what-does-it-show') }}</label>
        <input
          id="seen-display"
          ref="field"
          v-model="display"
          class="input input-figure"
          autocomplete="off"
          :placeholder="stands?.display"
        />
        <button v-if="sentLine" type="button" class="btn" data-testid="read-display" @click="display = sentLine">
          {{ $t('seen-form-as-sent', { line: sentLine }) }}
        </button>
      </div>
      <div class="field">
        <label for="seen-sort">{{ $t('seen-form-that-is') }}</label>
        <select id="seen-sort" v-model="sort" class="input">
          <option v-for="name in screens.keys()" :key="name" :value="name">{{ $t(`seen-form-sort-${name}`) }}</option>
        </select>
      </div>
      <Button type="submit" :class="expected.length ? '' : 'btn-next'" :disabled="sending.busy.value || !sort">{{
        same ? $t('seen-form-same-as-before') : $t('common-enter')
      }}</Button>
    </div>
    <fieldset v-if="hasDigits && shows" class="row">
      <legend class="small">{{ $t('seen-form-which-digit-blinks') }}</legend>
      <button
        v-for="(d, i) in shows"
        :key="i"
        type="button"
        class="btn figure"
        :aria-pressed="blinks === i"
        :data-blink="i"
        @click="blinks = i"
      >
        {{ d }}
      </button>
      <button type="button" class="btn" :aria-pressed="blinks === null" @click="blinks = null">
        {{ $t('seen-form-none-blinks') }}
      </button>
    </fieldset>
    <div v-if="sort === 'question'" class="field">
      <label for="seen-offered">{{ $t('seen-form-offered') }}</label>
      <input id="seen-offered" v-model="offered" class="input figure" autocomplete="off" />
    </div>
    <div v-if="sort === 'buttons' || sort === 'option'" class="field">
      <label for="seen-buttons">{{ $t('seen-form-buttons') }}</label>
      <input id="seen-buttons" v-model="buttons" class="input figure" autocomplete="off" />
    </div>
  </form>
</template>

<style scoped>
.end {
  align-items: end;
}
.grow {
  flex: 1;
  min-width: 10rem;
}
fieldset {
  border: none;
  padding: 0;
  margin: 0;
}
</style>
