import { type ComputedRef, type Ref, ref, watch } from 'vue'

/** The value, once it has been still for so many milliseconds. */
export function refDebounced<T>(source: Ref<T> | ComputedRef<T>, ms: number): Ref<T> {
  const out = ref(source.value) as Ref<T>
  let timer: ReturnType<typeof setTimeout> | undefined
  watch(source, (now) => {
    clearTimeout(timer)
    timer = setTimeout(() => (out.value = now), ms)
  })
  return out
}
