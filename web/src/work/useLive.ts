import { type MaybeRefOrGetter, type Ref, onScopeDispose, readonly, ref, toValue, watch } from 'vue'
import type { LiveView } from '../api/types'

/** The live reading of a scale; null until something is heard, or where it is not connected. */
export function useLive(url: MaybeRefOrGetter<string | null>): Readonly<Ref<LiveView | null>> {
  const view = ref<LiveView | null>(null)
  let source: EventSource | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  function listen(at: string): void {
    source = new EventSource(at)
    source.onmessage = (event: MessageEvent<string>) => {
      view.value = JSON.parse(event.data) as LiveView
    }
    source.onerror = () => {
      if (view.value) view.value = { ...view.value, connected: false, steady: false, held: 0, shown: null, says: 'no signal: the server does not answer; trying again' }
      // A browser gives up after an error answer; we do not.
      if (source?.readyState === EventSource.CLOSED) timer = setTimeout(() => listen(at), 1500)
    }
  }

  function stop(): void {
    clearTimeout(timer)
    source?.close()
    source = undefined
    view.value = null
  }

  watch(() => toValue(url), (at) => {
    stop()
    if (at) listen(at)
  }, { immediate: true })
  onScopeDispose(stop)
  return readonly(view) as Readonly<Ref<LiveView | null>>
}
