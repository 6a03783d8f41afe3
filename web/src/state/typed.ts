import { type Ref, ref, watch } from 'vue'

/** Text that a person typed, kept across reloads and crashes until it is entered. */
export function useTyped(key: () => string, initial: () => string = () => ''): Ref<string> {
  const read = () => {
    try {
      return localStorage.getItem(`ombret.typed.${key()}`)
    } catch {
      return null
    }
  }
  const text = ref(read() ?? initial())
  watch(key, () => {
    text.value = read() ?? initial()
  })
  watch(text, (now) => {
    try {
      if (now === '' || now === initial()) localStorage.removeItem(`ombret.typed.${key()}`)
      else localStorage.setItem(`ombret.typed.${key()}`, now)
    } catch {
      // Without storage it lives in the page only.
    }
  })
  return text
}
