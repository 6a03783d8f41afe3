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
      if (view.value)
        view.value = {
          ...view.value,
          connected: false,
          steady: false,
          held: 0,
          shown: null,
          says: 'no signal: the server does not answer; trying again',
        }
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

  // A browser has few connections to one server: a page that nobody sees leaves them to others.
  const seen = ref(document.visibilityState === 'visible')
  const look = () => (seen.value = document.visibilityState === 'visible')
  document.addEventListener('visibilitychange', look)

  watch(
    [() => toValue(url), seen],
    ([at, looks]) => {
      stop()
      if (at && looks) listen(at)
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    document.removeEventListener('visibilitychange', look)
    stop()
  })
  return readonly(view) as Readonly<Ref<LiveView | null>>
}
