<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue'
import { useVocabulary } from '../api/scales'
import { linkSource } from '../offline/link'
import { BAUDS, FRAMES, type Source, canSerial, choosePort, speedOf } from '../offline/serial'
import { readFrom, reads, sentLine, stopReading } from './sent'

// Where the indicator sends its display on a cable, it need not be typed.
const { data: words } = useVocabulary()
const baud = ref(9600)
const frame = ref('8N1')
const code = ref('')
const nothing = ref(false)

async function begin(choose: () => Promise<Source | null>): Promise<void> {
  nothing.value = false
  const source = await choose()
  if (!source) return void (nothing.value = true)
  void readFrom(source)
}
onBeforeUnmount(stopReading)
</script>

<template>
  <p v-if="reads" class="row small" data-testid="sent-display">
    {{ $t('sent-display-it-sends') }} <span class="figure">{{ sentLine || '–' }}</span>
    <button type="button" class="btn btn-bare" @click="stopReading">{{ $t('device-port-stop') }}</button>
  </p>
  <details v-else>
    <summary class="opens">{{ $t('sent-display-sends-its-display') }}</summary>
    <form v-if="canSerial()" class="row end" @submit.prevent="begin(() => choosePort(speedOf(baud, frame)))">
      <label class="field"
        ><span class="label">{{ $t('device-port-speed') }}</span
        ><select v-model="baud" class="input figure short">
          <option v-for="b in BAUDS" :key="b" :value="b">{{ b }}</option>
        </select></label
      >
      <label class="field"
        ><span class="label">{{ $t('device-port-frame') }}</span
        ><select v-model="frame" class="input figure short">
          <option v-for="(_, f) in FRAMES" :key="f" :value="f">{{ f }}</option>
        </select></label
      >
      <button type="submit" class="btn">{{ $t('device-port-choose') }}</button>
    </form>
    <p v-else class="small">{{ $t('device-port-browser-has-none') }}</p>
    <form class="row end" @submit.prevent="begin(() => linkSource(words?.link_address ?? '', code))">
      <label class="field"
        ><span class="label">{{ $t('device-port-link-code') }}</span
        ><input v-model="code" class="input figure short" autocomplete="off"
      /></label>
      <button type="submit" class="btn" :disabled="!code.trim()">{{ $t('device-port-by-link') }}</button>
    </form>
    <p v-if="nothing" class="wrong" role="alert">{{ $t('sent-display-nothing-to-read') }}</p>
  </details>
</template>

<style scoped>
.end {
  align-items: end;
}
.short {
  width: 7rem;
}
</style>
