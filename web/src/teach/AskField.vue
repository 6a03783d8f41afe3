<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useVocabulary } from '../api/scales'
import type { Asked } from '../api/teaching'
import TextField from '../ui/TextField.vue'
import { useTeaching } from './useTeaching'

// How a number is entered: with its digits, its point, its limits, or as a code for one of several.
const props = defineProps<{ asked: Asked<'field'> }>()
const { tell, sending, session } = useTeaching()
const { data: words } = useVocabulary()
const digits = ref(props.asked.digits)
const point = ref<'setup' | 'own' | 'typed'>('setup')
const decimals = ref(0)
const least = ref('')
const most = ref('')
const coded = ref(false)
const codes = ref([
  { shows: '', is: '' },
  { shows: '', is: '' },
])
const said = computed(() => codes.value.filter((c) => c.shows.trim() || c.is.trim()))
const wrongCode = (shows: string): string => (shows ? sending.wrong(`option-${shows}`) : '')
const submit = (): Promise<void> =>
  tell({
    about: 'field',
    item: props.asked.item,
    digits: digits.value,
    decimals: point.value === 'own' && !coded.value ? decimals.value : null,
    with_point: point.value === 'typed' && !coded.value,
    least: coded.value ? '' : least.value,
    most: coded.value ? '' : most.value,
    codes: coded.value ? said.value.map((c) => ({ shows: c.shows.trim(), is: c.is.trim() })) : [],
  })
</script>

<template>
  <form class="stack" @submit.prevent="submit">
    <h2>{{ $t('ask-field-how-is-it-entered', { name: asked.item.at(-1) ?? '' }) }}</h2>
    <label class="check"
      ><input v-model="coded" name="teach-coded" type="checkbox" /> {{ $t('ask-field-a-code') }}</label
    >
    <template v-if="coded">
      <div v-for="(c, i) in codes" :key="i" class="row">
        <input v-model="c.shows" class="input figure short" inputmode="numeric" :aria-label="$t('ask-field-typed')" />
        <span aria-hidden="true">=</span>
        <input v-model="c.is" class="input figure short" autocomplete="off" :aria-label="$t('ask-field-stands-for')" />
        <span v-if="wrongCode(c.shows)" class="wrong" role="alert">{{ wrongCode(c.shows) }}</span>
      </div>
      <p v-if="sending.wrong('codes')" class="wrong" role="alert">{{ sending.wrong('codes') }}</p>
      <button type="button" class="btn start" @click="codes.push({ shows: '', is: '' })">
        {{ $t('ask-field-another-code') }}
      </button>
    </template>
    <div v-else class="row end">
      <div class="field">
        <label for="teach-point-of">{{ $t('ask-field-point') }}</label>
        <select id="teach-point-of" v-model="point" class="input">
          <option value="setup">{{ $t('ask-field-point-setup') }}</option>
          <option value="own">{{ $t('ask-field-point-own') }}</option>
          <option v-if="session?.keypad" value="typed">{{ $t('ask-field-point-typed') }}</option>
        </select>
      </div>
      <div v-if="point === 'own'" class="field">
        <label for="teach-decimals">{{ $t('ask-field-decimals') }}</label>
        <select id="teach-decimals" v-model="decimals" class="input figure short">
          <option v-for="n in words?.widest ?? 0" :key="n" :value="n - 1">{{ n - 1 }}</option>
        </select>
      </div>
      <TextField
        id="teach-least"
        v-model="least"
        :label="$t('ask-field-least')"
        :wrong="sending.wrong('least')"
        figure
      />
      <TextField id="teach-most" v-model="most" :label="$t('ask-field-most')" :wrong="sending.wrong('most')" figure />
    </div>
    <div class="row end">
      <div class="field">
        <label for="teach-digits">{{ $t('ask-field-digits') }}</label>
        <select id="teach-digits" v-model="digits" class="input figure short">
          <option v-for="n in words?.widest ?? 0" :key="n" :value="n">{{ n }}</option>
        </select>
      </div>
      <Button type="submit" class="btn-next" :disabled="sending.busy.value || (coded && !said.length)">{{
        $t('common-enter')
      }}</Button>
    </div>
  </form>
</template>

<style scoped>
.end {
  align-items: end;
}
.short {
  width: 7rem;
}
.start {
  align-self: flex-start;
}
</style>
