<script setup lang="ts">
import { computed } from 'vue'
import { type Theme, glare, language, theme } from '../state/preferences'

const themes: { value: Theme; label: string }[] = [
  { value: 'system', label: 'app-bar-system' },
  { value: 'light', label: 'app-bar-light' },
  { value: 'dark', label: 'app-bar-dark' },
]
// The button names the language to change to, in that language.
const other = computed(() => (language.value === 'en' ? 'de' : 'en'))

function turn(): void {
  const at = themes.findIndex((t) => t.value === theme.value)
  theme.value = themes[(at + 1) % themes.length]?.value ?? 'system'
}
</script>

<template>
  <button class="btn btn-bare" type="button" @click="turn">
    {{ $t('app-bar-look-label', { label: $t(themes.find((t) => t.value === theme)?.label ?? 'app-bar-system') }) }}
  </button>
  <button class="btn btn-bare" type="button" role="switch" :aria-checked="glare" @click="glare = !glare">
    {{ $t('app-bar-high-contrast') }}
  </button>
  <button class="btn btn-bare" type="button" :lang="other" @click="language = other">
    {{ other === 'de' ? 'Deutsch' : 'English' }}
  </button>
</template>
