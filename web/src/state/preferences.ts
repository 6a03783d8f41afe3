import { ref, watch } from 'vue'
import { type Language, speak } from '../words'

export type Theme = 'system' | 'light' | 'dark'

const stored = (key: string): string | null => {
  try {
    return localStorage.getItem(key)
  } catch {
    return null
  }
}
const asTheme = (text: string | null): Theme => (text === 'light' || text === 'dark' ? text : 'system')

const asLanguage = (text: string): Language => (text.toLowerCase().startsWith('de') ? 'de' : 'en')

export const theme = ref<Theme>(asTheme(stored('ombret.theme')))
/** The language of the page: chosen here, else the browser's. */
export const language = ref<Language>(asLanguage(stored('ombret.language') ?? navigator.language))
export const glare = ref(stored('ombret.glare') === 'on')

const dark = typeof matchMedia === 'function' ? matchMedia('(prefers-color-scheme: dark)') : null

function dress(): void {
  const root = document.documentElement
  root.dataset.theme = theme.value === 'system' ? (dark?.matches ? 'dark' : 'light') : theme.value
  root.dataset.glare = glare.value ? 'on' : 'off'
}

/** Done when the page may speak. */
export function applyPreferences(): Promise<void> {
  dress()
  dark?.addEventListener('change', dress)
  watch([theme, glare, language], () => {
    dress()
    void speak(language.value)
    try {
      localStorage.setItem('ombret.theme', theme.value)
      localStorage.setItem('ombret.language', language.value)
      localStorage.setItem('ombret.glare', glare.value ? 'on' : 'off')
    } catch {
      // Without storage the choice lasts until the page is closed.
    }
  })
  return speak(language.value)
}
