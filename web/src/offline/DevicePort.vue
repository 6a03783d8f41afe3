<script setup lang="ts">
import { computed, onBeforeUnmount, ref } from 'vue'
import { useScale, useVocabulary } from '../api/scales'
import { useJob } from '../job/useJob'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import { carried, rowOf, takeAlong } from './along'
import { hasCore } from './core'
import { held } from './held'
import { home } from './home'
import { linkSource } from './link'
import { BAUDS, FRAMES, type Source, canSerial, choosePort, devicePort, speedOf } from './serial'
import { vault } from './vault'

// The indicator on this device's own cable, or through the link program.
const job = useJob()
const sheet = computed(() => job.assessment.value?.sheet)
const { data: scale } = useScale(() => sheet.value?.id)
const { data: words } = useVocabulary()
const baud = ref(9600)
const frame = ref('8N1')
const code = ref('')
const { failure, busy, tried } = useTried()
const mine = computed(() => vault.lock.value?.person.id === session.person.value?.id)
const reads = computed(() => devicePort.reading.value?.job === job.id)
const nothing = ref('')

async function begin(choose: () => Promise<Source | null>, none: string): Promise<void> {
  nothing.value = ''
  // The browser shows its list only while a finger is on the button: first of all.
  const source = await choose()
  if (!source) return void (nothing.value = none)
  await tried(async () => {
    const of = sheet.value
    if (!of) return
    if (!held.get(job.id) || !carried.has(of.id)) await takeAlong([await rowOf(of.id)])
    const kept = held.get(job.id)
    if (kept) await held.hand(kept)
    await devicePort.start(source, job.id, of.id, scale.value?.device?.pattern ?? null)
  })
}
function stop(): void {
  devicePort.stop()
  void home.bringAll()
}
onBeforeUnmount(() => {
  if (reads.value) stop()
})
</script>

<template>
  <p v-if="reads" class="row small" data-testid="device-port">
    {{ $t('device-port-read-here') }}
    <button type="button" class="btn btn-bare" @click="stop">{{ $t('device-port-stop') }}</button>
  </p>
  <details v-else-if="hasCore && vault.possible" class="port">
    <summary class="opens">{{ $t('device-port-on-this-devices-cable') }}</summary>
    <p v-if="!mine">
      <RouterLink :to="{ name: 'along' }">{{ $t('device-port-set-up-first') }}</RouterLink>
    </p>
    <div v-else class="stack tight">
      <form
        v-if="canSerial()"
        class="row end"
        @submit.prevent="begin(() => choosePort(speedOf(baud, frame)), $t('device-port-none'))"
      >
        <div class="field">
          <label for="port-baud">{{ $t('device-port-speed') }}</label>
          <select id="port-baud" v-model="baud" class="input figure short">
            <option v-for="b in BAUDS" :key="b" :value="b">{{ b }}</option>
          </select>
        </div>
        <div class="field">
          <label for="port-frame">{{ $t('device-port-frame') }}</label>
          <select id="port-frame" v-model="frame" class="input figure short">
            <option v-for="(_, f) in FRAMES" :key="f" :value="f">{{ f }}</option>
          </select>
        </div>
        <button type="submit" class="btn" :disabled="busy">{{ $t('device-port-choose') }}</button>
      </form>
      <p v-else class="small">{{ $t('device-port-browser-has-none') }}</p>
      <form
        class="row end"
        @submit.prevent="begin(() => linkSource(words?.link_address ?? '', code), $t('device-port-no-link'))"
      >
        <div class="field">
          <label for="link-code">{{ $t('device-port-link-code') }}</label>
          <input id="link-code" v-model="code" class="input figure short" autocomplete="off" />
        </div>
        <button type="submit" class="btn" :disabled="busy || !code.trim()">{{ $t('device-port-by-link') }}</button>
      </form>
      <p v-if="nothing" class="wrong" role="alert">{{ nothing }}</p>
      <RefusalNote :failure="failure" />
    </div>
  </details>
</template>

<style scoped>
.port,
[data-testid='device-port'] {
  padding: 0 1.25rem;
}
.end {
  align-items: end;
}
.short {
  width: 7rem;
}
</style>
