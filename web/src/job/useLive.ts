import { message, revived } from '../words'
import { type MaybeRefOrGetter, type Ref, readonly, ref } from 'vue'
import type { LiveView } from '../api/types'
import { useEvents } from '../state/events'

/** The live reading of a scale; null until something is heard, or where it is not connected. */
export function useLive(url: MaybeRefOrGetter<string | null>): Readonly<Ref<LiveView | null>> {
  const view = ref<LiveView | null>(null)
  useEvents(
    url,
    (data) => (view.value = revived(JSON.parse(data) as LiveView)),
    () => {
      if (view.value)
        view.value = {
          ...view.value,
          connected: false,
          steady: false,
          held: 0,
          shown: null,
          says: message('use-live-no-signal-the-server-does'),
        }
    },
    () => (view.value = null),
  )
  return readonly(view) as Readonly<Ref<LiveView | null>>
}
