<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import TextField from '../../ui/TextField.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'
import { momentText } from '../../ui/format'

// The customer signs on the screen, with a finger or a pen: the work as it stands. More work takes it off again.
const job = useJob()
const entry = useEntry()
const signed = computed(() => job.assessment.value?.close.customer ?? null)
const name = ref('')
const path = ref('')
const again = ref(false)
let drawing = false
let last = ''

function point(event: PointerEvent): string {
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const at = (value: number, size: number, most: number) => Math.round(Math.min(1, Math.max(0, value / size)) * most)
  return `${at(event.clientX - box.left, box.width, 600)} ${at(event.clientY - box.top, box.height, 200)}`
}
function begin(event: PointerEvent): void {
  ;(event.currentTarget as SVGElement).setPointerCapture(event.pointerId)
  drawing = true
  last = point(event)
  path.value += `M${last}`
}
function move(event: PointerEvent): void {
  if (!drawing) return
  const now = point(event)
  if (now === last || path.value.length > 19_000) return
  last = now
  path.value += `L${now}`
}
function end(): void {
  drawing = false
  // A dot is drawn as a short line.
  path.value = path.value.replace(/M(\d+) (\d+)$/, 'M$1 $2L$1 $2')
}
async function sign(): Promise<void> {
  if (await entry.enter({ kind: 'customer_signed', name: name.value, path: path.value })) {
    path.value = name.value = ''
    again.value = false
  }
}
</script>

<template>
  <section class="customer" aria-labelledby="customer-signs">
    <h2 id="customer-signs" class="head">{{ $t('customer-sign-the-customer-signs') }}</h2>
    <p v-if="signed && !again" class="row" role="status">
      <span
        >{{ $t('common-signed-by') }} <strong>{{ signed.name }}</strong>, {{ momentText(signed.at) }}</span
      >
      <button type="button" class="btn btn-bare" @click="again = true">{{ $t('customer-sign-sign-again') }}</button>
    </p>
    <form v-else class="stack tight" @submit.prevent="sign">
      <TextField
        id="customer-name"
        v-model="name"
        :label="$t('customer-sign-name-in-letters')"
        :wrong="entry.wrong('name')"
      />
      <div class="field">
        <span id="draw-here" class="label">{{ $t('customer-sign-sign-here') }}</span>
        <svg
          class="paper"
          viewBox="0 0 600 200"
          role="img"
          aria-labelledby="draw-here"
          data-testid="signature"
          @pointerdown.prevent="begin"
          @pointermove="move"
          @pointerup="end"
          @pointercancel="end"
        >
          <line x1="40" y1="160" x2="560" y2="160" class="line" />
          <path :d="path" class="ink" />
        </svg>
        <p v-if="entry.wrong('path')" class="wrong" role="alert">{{ entry.wrong('path') }}</p>
      </div>
      <div class="row tight">
        <Button type="submit" :class="{ 'btn-next': !signed }" :disabled="entry.blocked.value || !path">{{
          $t('customer-sign-save-signature')
        }}</Button>
        <button type="button" class="btn btn-bare" :disabled="!path" @click="path = ''">
          {{ $t('customer-sign-clear') }}
        </button>
      </div>
    </form>
  </section>
</template>

<style scoped>
.head {
  font-size: 1rem;
}
.paper {
  width: 100%;
  max-width: 37.5rem;
  aspect-ratio: 3;
  border: 1.5px solid var(--ink-2);
  background: var(--sheet);
  touch-action: none;
  cursor: crosshair;
}
.ink {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.line {
  stroke: var(--rule);
  stroke-width: 1.5;
}
</style>
