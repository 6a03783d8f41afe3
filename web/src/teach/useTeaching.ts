import { type InjectionKey, type Ref, computed, inject, provide, ref, shallowRef } from 'vue'
import { type Answer, type Seen, type Session, type TeachingView, keepTeaching, readTeaching } from '../api/teaching'
import { keepFor, keptFor } from '../state/own'
import { type Tried, useTried } from '../state/tried'

// A session of teaching: every step is kept at the server as soon as it is said, and here until it is.

export interface Teaching {
  view: Ref<TeachingView | null>
  session: Ref<Session | null>
  sending: Tried
  see: (seen: Seen) => Promise<void>
  tell: (answer: Answer) => Promise<void>
  /** Takes back the last step, or everything from a step on. */
  takeBack: (from?: number) => Promise<void>
  /** Says anew what a step showed. */
  correct: (at: number, display: string) => Promise<void>
  begin: (session: Session) => Promise<void>
  /** A key that was forgotten at first. */
  addKey: (cap: string) => Promise<void>
  load: () => Promise<void>
}

const KEY: InjectionKey<Teaching> = Symbol('teaching')

export function provideTeaching(id: string): Teaching {
  const view = shallowRef<TeachingView | null>(null)
  const waiting = shallowRef<Session | null>(null)
  const version = ref(0)
  const sending = useTried()
  const session = computed(() => waiting.value ?? view.value?.session ?? null)

  async function keep(next: Session): Promise<void> {
    waiting.value = next
    keepFor('teaching', id, JSON.stringify({ version: version.value, session: next }))
    const done = await sending.tried(async () => {
      view.value = await keepTeaching(id, version.value, next)
      version.value = view.value.version
    })
    // What only waits for the server is sent with the next step; what is refused is said anew.
    if (!done && sending.failure.value?.passes) return
    waiting.value = null
    keepFor('teaching', id, null)
  }
  async function load(): Promise<void> {
    await sending.tried(async () => {
      view.value = await readTeaching(id)
      version.value = view.value.version
    })
    // What was said while the server did not answer is sent now.
    const kept = keptFor('teaching', id)
    const left = kept ? (JSON.parse(kept) as { version: number; session: Session }) : null
    if (left && left.version === version.value) await keep(left.session)
  }
  const now = (): Session => session.value ?? { name: '', keys: [], keypad: false, events: [] }
  const add = (event: Session['events'][number]) => keep({ ...now(), events: [...now().events, event] })
  const teaching: Teaching = {
    view,
    session,
    sending,
    load,
    begin: keep,
    addKey: (cap) => keep({ ...now(), keys: [...now().keys, cap] }),
    see: (seen) => add({ event: 'seen', ...seen }),
    tell: (answer) => add({ event: 'told', ...answer }),
    takeBack: (from) => keep({ ...now(), events: now().events.slice(0, from ?? -1) }),
    correct: (at, display) => {
      const events = now().events.map((e, i) => (i === at && e.event === 'seen' ? { ...e, display } : e))
      return keep({ ...now(), events })
    },
  }
  provide(KEY, teaching)
  return teaching
}

export function useTeaching(): Teaching {
  const found = inject(KEY)
  if (!found) throw new Error('no session of teaching around this')
  return found
}
