<script setup lang="ts">
import { nextTick, onBeforeUnmount, ref } from 'vue'

// A photograph of the front: a key is named where it is touched, so that none is forgotten. The picture stays on this
// device and goes with the page.
const emit = defineEmits<{ key: [cap: string] }>()
const picture = ref('')
const named = ref<{ x: number; y: number; cap: string }[]>([])
const at = ref<{ x: number; y: number } | null>(null)
const cap = ref('')
const field = ref<HTMLInputElement | null>(null)
const picked = ref<HTMLInputElement | null>(null)

function take(event: Event): void {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  if (picture.value) URL.revokeObjectURL(picture.value)
  picture.value = URL.createObjectURL(file)
  named.value = []
}
async function touch(event: MouseEvent): Promise<void> {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const share = (part: number, whole: number) => (whole > 0 ? (100 * part) / whole : 0)
  at.value = { x: share(event.clientX - box.left, box.width), y: share(event.clientY - box.top, box.height) }
  cap.value = ''
  await nextTick()
  field.value?.focus()
}
function enter(): void {
  const name = cap.value.trim().replace(/\s+/g, '_')
  if (name && at.value) {
    named.value = [...named.value, { ...at.value, cap: name }]
    emit('key', name)
  }
  at.value = null
}
const place = (spot: { x: number; y: number }) => ({ left: `${spot.x}%`, top: `${spot.y}%` })
onBeforeUnmount(() => {
  if (picture.value) URL.revokeObjectURL(picture.value)
})
</script>

<template>
  <div class="stack tight">
    <input
      ref="picked"
      class="sr-only"
      type="file"
      accept="image/*"
      capture="environment"
      tabindex="-1"
      data-testid="front-file"
      :aria-label="$t('front-picture-take')"
      @change="take"
    />
    <button type="button" class="btn start" @click="picked?.click()">{{ $t('front-picture-take') }}</button>
    <template v-if="picture">
      <p class="small">{{ $t('front-picture-touch-each-key') }}</p>
      <div class="front" data-testid="front" @click="touch">
        <img :src="picture" :alt="$t('front-picture-the-front')" />
        <span v-for="n in named" :key="`${n.x} ${n.y}`" class="cap" :style="place(n)">{{ n.cap }}</span>
        <input
          v-if="at"
          ref="field"
          v-model="cap"
          class="input figure name"
          :style="place(at)"
          :aria-label="$t('front-picture-what-stands-on-it')"
          autocomplete="off"
          @click.stop
          @keydown.enter.prevent="enter"
          @keydown.esc.prevent="at = null"
          @blur="enter"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.front {
  position: relative;
  max-width: 36rem;
  cursor: crosshair;
}
img {
  width: 100%;
  display: block;
}
.cap,
.name {
  position: absolute;
  transform: translate(-50%, -50%);
}
.cap {
  background: var(--ink);
  color: var(--paper);
  padding: 0.1rem 0.5rem;
  border-radius: 3px;
  font-weight: 650;
}
.name {
  width: 6rem;
}
.start {
  align-self: flex-start;
}
</style>
