<script setup lang="ts">
import GradeWord from '../../ui/GradeWord.vue'
import { massText } from '../../ui/format'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useKit, usePlan } from '../../api/kit'
import type { PieceView, SpanWeightRule } from '../../api/types'
import RefusalNote from '../../ui/RefusalNote.vue'
import { refDebounced } from '../../state/small'
import { useTyped } from '../../state/typed'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'
import { usePlanChoices } from '../usePlanChoices'

// The span weight: what is keyed in, of which pieces it is made, and how good it would be.
const props = defineProps<{ unit: string; max: string }>()
const emit = defineEmits<{ thinks: [weight: string] }>()
const job = useJob()
const entry = useEntry()
// As last time, unless something else is typed.
const lastTime = () => {
  const weight = job.assessment.value?.before?.span?.weight
  return weight && weight.unit === props.unit && job.assessment.value?.adjust.pad === 1 ? weight.value : ''
}
const weight = useTyped(() => `${job.id}.span-weight`, lastTime)
const asked = refDebounced(weight, 150)
watch(asked, (now) => emit('thinks', now), { immediate: true })
const { choices } = usePlanChoices(() => job.id)
const { data: reply, isError: silent } = usePlan(
  () => job.id,
  computed(() => ({ choices: choices.value, span: asked.value, entries: job.assessment.value?.entries.length ?? 0 })),
)
const { data: kit } = useKit('')
const objects = computed(() => (kit.value ?? []).filter((r) => r.piece.reference && !r.piece.damaged))
const object = ref<PieceView | null>(null)
// An answer counts for what it was asked, not for what stands in the field by now.
const answers = computed(() => (reply.value?.asked_span === weight.value ? reply.value : null))
const span = computed(() => (weight.value.trim() ? (answers.value?.span ?? null) : null))
const refusedText = computed(() => {
  const refused = weight.value.trim() ? answers.value?.span_refused : null
  return refused ? [refused.message, refused.what_to_do].filter(Boolean).join('. ') : ''
})
const pieces = computed(() =>
  object.value ? [object.value.piece] : span.value ? (answers.value?.span_pieces ?? []) : [],
)
const floor = computed(() => span.value?.floors.find((f) => f.span_weight_rule === reply.value?.span_weight_rule))
const rule = ref<SpanWeightRule | ''>('')
const why = ref('')

function take(row: PieceView): void {
  object.value = object.value?.piece.id === row.piece.id ? null : row
  if (object.value) weight.value = `${row.piece.nominal.value} ${row.piece.nominal.unit}`
}
function typed(): void {
  object.value = null
}
// Whoever is quicker than the answer waits for the pieces of what was typed.
const answered = computed(() => silent.value || answers.value !== null)
async function answer(): Promise<void> {
  if (answered.value || object.value) return
  await new Promise<void>((done) => {
    const stop = watch(answered, (now) => {
      if (!now) return
      stop()
      done()
    })
  })
}
async function choose(): Promise<void> {
  await answer()
  const made = pieces.value.map((p) => p.id)
  if (await entry.enter({ kind: 'span_chosen', weight: weight.value, with: made })) weight.value = ''
}
async function ask(): Promise<void> {
  if (rule.value && (await entry.enter({ kind: 'school_chosen', span_weight_rule: rule.value, reason: why.value })))
    rule.value = ''
}
</script>

<template>
  <RefusalNote :failure="entry.general(['weight', 'reason'])" />
  <form class="row choose" @submit.prevent="choose">
    <div class="field">
      <label for="span-weight">{{ $t('span-choice-span-weight-unit', { unit }) }}</label>
      <InputText
        id="span-weight"
        v-model="weight"
        class="input input-figure"
        inputmode="decimal"
        autocomplete="off"
        autofocus
        :aria-invalid="Boolean(entry.wrong('weight'))"
        @input="typed"
      />
      <p :class="entry.wrong('weight') || refusedText ? 'wrong' : 'hint'">
        {{
          entry.wrong('weight') ||
          refusedText ||
          (weight.includes('%') && span
            ? `= ${massText(span.weight)}`
            : $t('span-choice-up-to-max-max-unit', { max: props.max, unit }))
        }}
      </p>
    </div>
    <Button type="submit" class="btn-next" :disabled="entry.blocked.value">{{ $t('span-choice-keyed-in') }}</Button>
  </form>
  <div v-if="span" class="stack tight" data-testid="span-choice" aria-live="polite">
    <p>
      <GradeWord :grade="span.grade">{{ $t(`loads-grade-${span.grade}`) }}</GradeWord>: {{ span.says }}.<template
        v-if="floor?.below"
      >
        {{
          $t('span-choice-below-label-floor-unit-this', {
            label: floor.label,
            floor: floor.floor?.value,
            unit: floor.floor?.unit,
          })
        }}</template
      >
    </p>
    <p v-if="span.if_wrong" class="small">{{ span.if_wrong }}</p>
    <p class="small quiet">
      {{
        pieces.length
          ? $t('span-choice-made-of-what', { what: pieces.map((p) => p.serial).join(', ') })
          : $t('span-choice-no-choice-of-usable-pieces')
      }}
    </p>
  </div>
  <p v-if="object" class="note note-caution small">
    {{
      $t('span-choice-serial-was-weighed-on-scale', {
        serial: object.piece.serial,
        scale: object.piece.reference?.scale,
        record: object.piece.reference?.record,
      })
    }}
  </p>
  <details v-if="reply" class="small">
    <summary>
      {{
        $t('span-choice-asked-for-workshopweighed', {
          workshop:
            reply.span?.floors.find((f) => f.span_weight_rule === reply?.span_weight_rule)?.label ??
            $t('span-choice-the-school-of-the-workshop'),
          weighed: objects.length ? $t('span-choice-or-an-object-that-was') : '',
        })
      }}
    </summary>
    <div v-if="objects.length" class="row tight">
      <span>{{ $t('span-choice-take-instead') }}</span><button
        v-for="o in objects"
        :key="o.piece.id"
        type="button"
        class="btn"
        :aria-pressed="object?.piece.id === o.piece.id"
        @click="take(o)"
      >
        {{ o.piece.serial }}, {{ massText(o.piece.nominal) }}
      </button>
    </div>
    <form class="row tight" @submit.prevent="ask">
      <select v-model="rule" class="input short" :aria-label="$t('span-choice-ask-for-another-span-weight')">
        <option value="">{{ $t('span-choice-on-this-job-ask-for') }}</option>
        <option v-for="f in reply.span?.floors ?? []" :key="f.span_weight_rule" :value="f.span_weight_rule">
          {{ f.label }}
        </option>
      </select>
      <InputText
        v-model="why"
        class="input grow"
        :aria-label="$t('span-choice-because')"
        :placeholder="$t('span-choice-because-2')"
        :aria-invalid="Boolean(entry.wrong('reason'))"
      /><Button type="submit" :disabled="!rule || entry.blocked.value">{{ $t('span-choice-ask-for-it') }}</Button>
      <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
    </form>
  </details>
</template>

<style scoped>
.choose {
  align-items: start;
}
.choose .btn {
  margin-top: 1.6rem;
}
.choose .field {
  flex: 1;
  max-width: 28rem;
}
.short {
  width: 13rem;
}
.grow {
  flex: 1;
}
summary {
  cursor: pointer;
  min-height: var(--target);
}
</style>
