import { type ComputedRef, type Ref, onBeforeUnmount, onMounted, ref, watch } from 'vue'

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

/** Does something at a key, unless somebody is typing. */
export function onKeyStroke(key: string, does: () => void): void {
  function pressed(event: KeyboardEvent): void {
    const at = event.target
    if (event.key !== key || (at instanceof HTMLElement && ['INPUT', 'TEXTAREA'].includes(at.tagName))) return
    event.preventDefault()
    does()
  }
  onMounted(() => addEventListener('keydown', pressed))
  onBeforeUnmount(() => removeEventListener('keydown', pressed))
}
