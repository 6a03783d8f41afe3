import { type InjectionKey, type Ref, computed, inject, provide, ref, shallowRef } from 'vue'
import { Failure } from '../api/client'
import { type Answer, type Seen, type Session, type TeachingView, keepTeaching, readTeaching } from '../api/teaching'
import { connection } from '../offline/connection'
import { ask, hasCore } from '../offline/core'
import { keepFor, keptFor } from '../state/own'
import { type Tried, useTried } from '../state/tried'

// A session of teaching: every step is kept at the server as soon as it is said, and here until it is. Without a
// network the page's own core says what is learnt.

export interface Teaching {
  view: Ref<TeachingView | null>
  session: Ref<Session | null>
  /** Steps are kept here until the server answers. */
  away: Ref<boolean>
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

/** The same whatever the order of fields, and whether what is nothing is said. */
function ordered(what: unknown): unknown {
  if (Array.isArray(what)) return what.map(ordered)
  if (what === null || typeof what !== 'object') return what
  const fields = Object.entries(what).filter(([, value]) => value !== null && value !== undefined)
  return Object.fromEntries(fields.sort(([one], [other]) => (one < other ? -1 : 1)).map(([k, v]) => [k, ordered(v)]))
}
const sameEvent = (one: unknown, other: unknown): boolean =>
  JSON.stringify(ordered(one)) === JSON.stringify(ordered(other))

const NOTHING: Session = { name: '', keys: [], keypad: false, events: [] }

type Told = Pick<TeachingView, 'learnt' | 'draft'>

/** What a session comes to, by the page's own core; null where it has none. */
const learnHere = async (session: Session): Promise<Told | null> =>
  hasCore ? ask<Told>({ ask: 'learn', session }) : null

/** Keeps a session at the server. Where the answer to an earlier step was lost, the server has that step already. */
async function send(id: string, version: number, next: Session): Promise<TeachingView> {
  try {
    return await keepTeaching(id, version, next)
  } catch (failure) {
    if (!(failure instanceof Failure && failure.status === 409)) throw failure
    const theirs = await readTeaching(id)
    const same = theirs.session.events.every((e, at) => sameEvent(e, next.events[at]))
    if (!same) throw failure
    return keepTeaching(id, theirs.version, next)
  }
}

type Steps = Pick<Teaching, 'see' | 'tell' | 'takeBack' | 'correct' | 'addKey'>

/** What is done with a session: it is kept with something more, less or other in it. */
function steps(now: () => Session, keep: (next: Session) => Promise<void>): Steps {
  const add = (event: Session['events'][number]) => keep({ ...now(), events: [...now().events, event] })
  return {
    addKey: (cap) => keep({ ...now(), keys: [...now().keys, cap] }),
    see: (seen) => add({ event: 'seen', ...seen }),
    tell: (answer) => add({ event: 'told', ...answer }),
    takeBack: (from) => keep({ ...now(), events: now().events.slice(0, from ?? -1) }),
    correct: (at, display) => {
      const events = now().events.map((e, i) => (i === at && e.event === 'seen' ? { ...e, display } : e))
      return keep({ ...now(), events })
    },
  }
}

export function provideTeaching(id: string): Teaching {
  const view = shallowRef<TeachingView | null>(null)
  const waiting = shallowRef<Session | null>(null)
  const version = ref(0)
  const here = ref(false)
  const sending = useTried()
  const session = computed(() => waiting.value ?? view.value?.session ?? null)

  /** What the server says of it; where it does not answer, what is learnt here. */
  async function comesTo(next: Session, told: () => Promise<TeachingView>): Promise<void> {
    try {
      view.value = await told()
      version.value = view.value.version
      here.value = false
    } catch (failure) {
      const learnt = failure instanceof Failure && failure.passes ? await learnHere(next) : null
      if (!learnt) throw failure
      view.value = { id, version: version.value, session: next, profile: view.value?.profile ?? null, ...learnt }
      here.value = true
    }
  }
  async function keep(next: Session): Promise<void> {
    waiting.value = next
    keepFor('teaching', id, JSON.stringify({ version: version.value, session: next }))
    const done = await sending.tried(() => comesTo(next, () => send(id, version.value, next)))
    // What only waits for the server is sent with the next step; what is refused is said anew.
    if (done ? here.value : sending.failure.value?.passes) return
    waiting.value = null
    keepFor('teaching', id, null)
  }
  // The core is fetched while there is a network.
  void learnHere(NOTHING).catch(() => undefined)
  connection.whenBack(() => {
    if (waiting.value && !sending.busy.value) void keep(waiting.value)
  })
  async function load(): Promise<void> {
    const kept = keptFor('teaching', id)
    const left = kept ? (JSON.parse(kept) as { version: number; session: Session }) : null
    if (left) version.value = left.version
    const was = version.value
    await sending.tried(() => comesTo(left?.session ?? now(), () => readTeaching(id)))
    // What was said while the server did not answer is sent now.
    if (!left) return
    if (here.value) waiting.value = left.session
    else if (was === version.value) await keep(left.session)
  }
  const now = (): Session => session.value ?? NOTHING
  const teaching: Teaching = {
    view,
    session,
    away: computed(() => view.value !== null && waiting.value !== null && here.value),
    sending,
    load,
    begin: keep,
    ...steps(now, keep),
  }
  provide(KEY, teaching)
  return teaching
}

export function useTeaching(): Teaching {
  const found = inject(KEY)
  if (!found) throw new Error('no session of teaching around this')
  return found
}
