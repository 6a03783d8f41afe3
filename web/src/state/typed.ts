import { type Ref, ref, watch } from 'vue'
import { keepFor, keptFor } from './own'

/** Text that a person typed, kept across reloads and crashes until it is entered. */
export function useTyped(key: () => string, initial: () => string = () => ''): Ref<string> {
  const read = () => keptFor('typed', key())
  const text = ref(read() ?? initial())
  watch(key, () => {
    text.value = read() ?? initial()
  })
  watch(text, (now) => keepFor('typed', key(), now === '' || now === initial() ? null : now))
  return text
}
