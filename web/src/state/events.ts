import { type MaybeRefOrGetter, onScopeDispose, ref, toValue, watch } from 'vue'

/**
 * What the server tells as it happens. A browser has few connections to one server: a page that nobody sees leaves
 * them to others.
 */
export function useEvents(
  url: MaybeRefOrGetter<string | null>,
  heard: (data: string) => void,
  lost: () => void = () => {},
  stopped: () => void = () => {},
): void {
  let source: EventSource | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  function listen(at: string): void {
    source = new EventSource(at)
    source.onmessage = (event: MessageEvent<string>) => heard(event.data)
    source.onerror = () => {
      lost()
      // A browser gives up after an error answer; we do not.
      if (source?.readyState === EventSource.CLOSED) timer = setTimeout(() => listen(at), 1500)
    }
  }

  function stop(): void {
    clearTimeout(timer)
    source?.close()
    source = undefined
    stopped()
  }

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
}
