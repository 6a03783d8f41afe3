<script setup lang="ts">
import { say } from '../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import { Failure, api, settled } from '../api/client'
import type { Unit } from '../api/types'

// A line that an indicator sent while it was steady makes the pattern; what is read of it shows at once.
const props = defineProps<{ unit: Unit }>()
const emit = defineEmits<{ made: [pattern: string, steady: string] }>()
const line = ref('')
const says = ref('')
const wrong = ref('')
// What was guessed is asked, and taken only when a person has said that it is right.
const guess = ref<{ pattern: string; steady: string } | null>(null)
const others = ref<{ pattern: { pattern: string; steady: string }; shown: { value: string; unit: string } }[]>([])
watch(line, () => {
  others.value = []
  guess.value = null
  says.value = wrong.value = ''
})
function take(): void {
  if (!guess.value) return
  emit('made', guess.value.pattern, guess.value.steady)
  guess.value = null
  says.value = say('example-line-the-pattern-is-taken')
}
async function make(): Promise<void> {
  says.value = wrong.value = ''
  try {
    const {
      pattern,
      shown,
      mark,
      others: more,
    } = await settled(api.POST('/api/lines', { body: { line: line.value, unit: props.unit } }))
    says.value = say('example-line-read-as-shown-unitsteady-did', {
      shown: shown.value,
      unit: shown.unit,
      steady:
        mark === null
          ? ''
          : mark
            ? say('example-line-steady-where-it-says-steady', { steady: pattern.steady })
            : say('example-line-not-steady'),
    })
    guess.value = { pattern: pattern.pattern, steady: pattern.steady }
    others.value = more
  } catch (told) {
    if (told instanceof Failure) wrong.value = told.message
    else throw told
  }
}
</script>

<template>
  <div class="field wide">
    <label for="example">{{ $t('example-line-a-line-that-it-sent') }}</label>
    <div class="row tight">
      <InputText
        id="example"
        v-model="line"
        class="input figure grow"
        autocomplete="off"
        :aria-invalid="Boolean(wrong)"
        @keydown.enter.prevent="make"
      /><Button type="button" @click="make">{{ $t('example-line-make-the-pattern') }}</Button>
    </div>
    <div class="row tight">
      <p :class="wrong ? 'wrong' : 'hint'" data-testid="example-says" aria-live="polite">
        {{ wrong || says || $t('example-line-as-it-came-such-as') }}
      </p>
      <template v-if="guess"
        ><Button type="button" class="btn-next" @click="take">{{ $t('example-line-use-this-pattern') }}</Button
        ><Button
          v-for="o in others"
          :key="o.pattern.pattern"
          type="button"
          @click="((guess = { pattern: o.pattern.pattern, steady: o.pattern.steady }), take())"
          >{{ $t('example-line-use-shown-unit', { shown: o.shown.value, unit: o.shown.unit }) }}</Button
        ><Button type="button" @click="guess = null">{{
          $t('example-line-write-the-pattern-myself')
        }}</Button></template
      >
    </div>
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
.grow {
  flex: 1;
  width: auto;
}
</style>
