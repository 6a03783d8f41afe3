<script setup lang="ts">
import { massText } from '../ui/format'
import type { PlanReply } from '../api/types'
import SpanCurve from '../drawings/SpanCurve.vue'
import GradeWord from '../ui/GradeWord.vue'
import WorkingList from '../ui/WorkingList.vue'

// How good a span is with the weight that is thought of.
const span = defineModel<string>({ required: true })
defineProps<{ reply: PlanReply | undefined; unit: string }>()
</script>

<template>
  <h2>{{ $t('loads-how-good-is-the-span') }}</h2>
  <div class="field">
    <label for="thought">{{ $t('loads-span-weight-thought-of-unit', { unit }) }}</label><input
      id="thought"
      v-model="span"
      class="input figure"
      autocomplete="off"
      :aria-invalid="Boolean(reply?.span_refused)"
      :placeholder="reply?.span ? reply.span.weight.value : $t('loads-such-as-half-of-max')"
    />

    <p v-if="reply?.span_refused" class="wrong" role="alert">
      {{ [reply.span_refused.message, reply.span_refused.what_to_do].filter(Boolean).join('. ') }}
    </p>
  </div>
  <template v-if="reply?.span">
    <p class="says" data-testid="span-says">
      <GradeWord :grade="reply.span.grade">{{ $t(`loads-grade-${reply.span.grade}`) }}</GradeWord> ·
      {{ reply.span.says }}
    </p>
    <SpanCurve :span="reply.span" :unit="unit" />
    <p v-if="reply.span_pieces.length" class="small">
      {{ $t('span-choice-made-of-what', { what: reply.span_pieces.map((p) => p.serial).join(', ') }) }}
    </p>
    <p v-else class="small note note-caution">{{ $t('loads-the-kit-does-not-build') }}</p>
    <p v-if="reply.span.one_more" class="small">{{ reply.span.one_more }}</p>
    <table class="small">
      <thead>
        <tr>
          <th scope="col">{{ $t('loads-school') }}</th>
          <th scope="col" class="right">{{ $t('loads-at-least') }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in reply.span.floors" :key="f.span_weight_rule">
          <th scope="row">{{ f.label }}</th>
          <td class="figure right">{{ f.floor ? massText(f.floor) : $t('loads-not-known') }}</td>
          <td>{{ f.floor ? (f.below ? $t('loads-below-it') : $t('loads-met')) : '' }}</td>
        </tr>
      </tbody>
    </table>
    <details>
      <summary>{{ $t('calculators-the-working') }}</summary>
      <WorkingList :workings="[reply.span.working]" />
    </details>
  </template>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: var(--target);
}
</style>
