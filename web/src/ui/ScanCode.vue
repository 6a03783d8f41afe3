<script setup lang="ts">
import { nextTick, onBeforeUnmount, ref } from 'vue'
import { say } from '../words'
import { codeIn, codeOnPhoto } from './codes'

// A code is read with the device's camera, or from a photograph of it; also without a network.
const emit = defineEmits<{ read: [text: string] }>()
const video = ref<HTMLVideoElement | null>(null)
const photo = ref<HTMLInputElement | null>(null)
const looking = ref(false)
const busy = ref(false)
const wrong = ref('')
let stream: MediaStream | null = null
/** So long between two looks at the camera's picture. */
const PAUSE_MS = 150

function stop(): void {
  looking.value = false
  for (const track of stream?.getTracks() ?? []) track.stop()
  stream = null
}
onBeforeUnmount(stop)

async function begin(): Promise<void> {
  wrong.value = ''
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
  } catch {
    // Without HTTPS a browser has no camera for a page, and a person may refuse it.
    return void (wrong.value = say('scan-code-no-camera'))
  }
  looking.value = true
  await nextTick()
  if (!video.value) return stop()
  video.value.srcObject = stream
  await video.value.play()
  look().catch(noReader)
}

/** The reader of codes cannot be had: it was not loaded before the network went. */
function noReader(): void {
  stop()
  wrong.value = say('scan-code-no-reader')
}

async function look(): Promise<void> {
  while (looking.value && video.value) {
    const text = video.value.readyState >= HTMLMediaElement.HAVE_CURRENT_DATA ? await codeIn(video.value) : null
    if (text && looking.value) {
      stop()
      navigator.vibrate?.(60)
      return emit('read', text)
    }
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
  }
}

async function fromPhoto(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  wrong.value = ''
  busy.value = true
  try {
    const text = await codeOnPhoto(file)
    if (text) emit('read', text)
    else wrong.value = say('scan-code-none-found')
  } catch {
    noReader()
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="stack tight">
    <div class="row">
      <button type="button" class="btn" @click="looking ? stop() : begin()">
        {{ looking ? $t('scan-code-stop') : $t('scan-code-scan') }}
      </button>
      <input
        ref="photo"
        class="sr-only"
        type="file"
        name="code-photo"
        accept="image/*"
        tabindex="-1"
        :aria-label="$t('scan-code-photograph')"
        @change="fromPhoto"
      />
      <button type="button" class="btn btn-bare" :disabled="busy" @click="photo?.click()">
        {{ $t('scan-code-photograph') }}
      </button>
    </div>
    <div v-if="looking" class="camera">
      <video ref="video" playsinline muted></video>
      <p class="small" role="status">{{ $t('scan-code-hold-it') }}</p>
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
video {
  width: min(100%, 26rem);
  max-height: 50vh;
  border: 2px solid var(--ink);
  background: var(--rule-2);
}
</style>
