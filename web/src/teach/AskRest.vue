<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import { useVocabulary } from '../api/scales'
import TextField from '../ui/TextField.vue'
import type { Answer, Question } from '../api/teaching'
import { useTeaching } from './useTeaching'

// What no key tells: switch, units, how it is kept, pads, codes, how fields begin.
type Rest = Extract<
  Question,
  { ask: 'switch' | 'units' | 'saving' | 'per_pad' | 'codes' | 'starts' | 'point' | 'whole' }
>
type Unit = NonNullable<Extract<Answer, { about: 'units' }>['weights_in']>
const props = defineProps<{ asked: Rest }>()
const { tell, sending, session } = useTeaching()
const { data: words } = useVocabulary()
const name = ref('')
const seal = ref(false)
const only = ref<Unit | ''>('')
const weights = ref<Unit | ''>('')
const least = ref('')
const save = ref(
  props.asked.ask === 'saving'
    ? { ...props.asked.guess, button: '' }
    : { how: 'leaving' as const, button: '', under_seal: false, before_unloading: false },
)
const items = props.asked.ask === 'per_pad' || props.asked.ask === 'codes' ? props.asked.items : []
const chosen = ref<string[]>([])
const codes = ref<Record<string, string>>({})
const pointKey = ref('')
const said = (path: string[]) => path.join(' › ')

function answer(): Answer {
  switch (props.asked.ask) {
    case 'switch':
      return { about: 'switch', name: name.value.trim(), under_seal: seal.value }
    case 'units':
      return {
        about: 'units',
        only_unit: only.value || null,
        weights_in: weights.value || null,
        least_span_percent: least.value,
      }
    case 'saving':
      return { about: 'saving', save: { ...save.value, button: save.value.button.trim() || null } }
    case 'per_pad':
      return { about: 'per_pad', items: items.filter((i) => chosen.value.includes(said(i))) }
    case 'codes':
      return {
        about: 'codes',
        codes: items.flatMap((i) => (codes.value[said(i)] ? [[i, codes.value[said(i)]]] : [])) as never,
      }
    case 'point':
      return { about: 'point', key: pointKey.value || null }
    default:
      return { about: 'right', item: [], right: true }
  }
}
</script>

<template>
  <form class="stack" @submit.prevent="tell(answer())">
    <h2>{{ $t(`ask-rest-${asked.ask.replace('_', '-')}`) }}</h2>
    <template v-if="asked.ask === 'switch'">
      <div class="field">
        <label for="teach-switch">{{ $t('ask-rest-switch-name') }}</label>
        <input id="teach-switch" v-model="name" class="input" autocomplete="off" />
      </div>
      <label class="check"><input v-model="seal" type="checkbox" /> {{ $t('ask-rest-under-seal') }}</label>
    </template>
    <template v-else-if="asked.ask === 'units'">
      <label class="field"
        >{{ $t('ask-rest-only-unit')
        }}<select v-model="only" name="teach-only" class="input short">
          <option value="">{{ $t('ask-rest-several') }}</option>
          <option v-for="u in words?.units ?? []" :key="u" :value="u">{{ u }}</option>
        </select></label
      >
      <label class="field"
        >{{ $t('ask-rest-weights-in')
        }}<select v-model="weights" class="input short">
          <option value="">{{ $t('ask-rest-as-shown') }}</option>
          <option v-for="u in words?.units ?? []" :key="u" :value="u">{{ u }}</option>
        </select></label
      >
      <TextField
        id="teach-least-span"
        v-model="least"
        :label="$t('ask-rest-least-span')"
        :wrong="sending.wrong('least_span_percent')"
        figure
      />
    </template>
    <template v-else-if="asked.ask === 'saving'">
      <select v-model="save.how" class="input short" :aria-label="$t('ask-rest-saving')">
        <option v-for="how in words?.saves ?? []" :key="how" :value="how">
          {{ $t(`ask-rest-save-${how.replace('_', '-')}`) }}
        </option>
      </select>
      <div v-if="save.how === 'button'" class="field">
        <label for="teach-button">{{ $t('ask-rest-button-name') }}</label>
        <input id="teach-button" v-model="save.button" class="input" autocomplete="off" />
      </div>
      <label class="check"
        ><input v-model="save.before_unloading" type="checkbox" /> {{ $t('ask-rest-before-unloading') }}</label
      >
    </template>
    <template v-else-if="asked.ask === 'per_pad'">
      <label v-for="i in items" :key="said(i)" class="check figure"
        ><input v-model="chosen" type="checkbox" :value="said(i)" /> {{ said(i) }}</label
      >
    </template>
    <template v-else-if="asked.ask === 'codes'">
      <label v-for="i in items" :key="said(i)" class="row figure"
        >{{ said(i) }} <input v-model="codes[said(i)]" class="input short" inputmode="numeric"
      /></label>
    </template>
    <select v-else-if="asked.ask === 'point'" v-model="pointKey" class="input short" :aria-label="$t('ask-rest-point')">
      <option v-for="key in session?.keys ?? []" :key="key" :value="key">{{ key }}</option>
    </select>
    <dl v-else-if="asked.ask === 'whole'">
      <dd>{{ $t(`ask-rest-save-${asked.save.how.replace('_', '-')}`) }}</dd>
      <dd>{{ $t('ask-rest-only-unit') }}: {{ asked.only_unit ?? $t('ask-rest-several') }}</dd>
      <dd>{{ $t('ask-rest-weights-in') }}: {{ asked.weights_in ?? $t('ask-rest-as-shown') }}</dd>
    </dl>
    <div v-if="asked.ask === 'starts'" class="row">
      <Button type="button" :disabled="sending.busy.value" @click="tell({ about: 'starts', value: true })">{{
        $t('ask-rest-starts-value')
      }}</Button>
      <Button type="button" :disabled="sending.busy.value" @click="tell({ about: 'starts', value: false })">{{
        $t('ask-rest-starts-zeros')
      }}</Button>
    </div>
    <div v-else class="row">
      <Button
        type="submit"
        class="btn-next"
        :disabled="sending.busy.value || (asked.ask === 'switch' && !name.trim())"
        >{{ asked.ask === 'whole' ? $t('ask-right-yes') : $t('common-enter') }}</Button
      >
      <Button
        v-if="asked.ask === 'whole'"
        type="button"
        :disabled="sending.busy.value"
        @click="tell({ about: 'right', item: [], right: false })"
        >{{ $t('ask-right-no') }}</Button
      >
    </div>
  </form>
</template>

<style scoped>
.short {
  width: 14rem;
}
</style>
