import { say } from '../words'
import { v7 as uuidv7 } from 'uuid'
import {
  type ComputedRef,
  type InjectionKey,
  type Ref,
  computed,
  inject,
  onBeforeUnmount,
  provide,
  readonly,
  ref,
  watch,
} from 'vue'
import { Failure } from '../api/client'
import { type Sending, postEntry, useJobQuery } from '../api/jobs'
import { queryClient } from '../api/queries'
import type { Assessment, Draft, EntryReply, JobReply } from '../api/types'
import { useEvents } from '../state/events'
import { keepFor, keptFor } from '../state/own'
import { askToSignIn, session } from '../state/session'

/** What became of an entry: stored, refused (why), or kept here until it can be stored. */
export type Sent = 'stored' | 'waiting' | Failure

export interface JobContext {
  id: string
  reply: ComputedRef<JobReply | undefined>
  assessment: ComputedRef<Assessment | undefined>
  frozen: ComputedRef<boolean>
  /** An entry that could not be stored yet. */
  waiting: Readonly<Ref<Sending | null>>
  /** Why it is still waiting, or why it was refused in the end. */
  trouble: Readonly<Ref<Failure | null>>
  busy: Readonly<Ref<boolean>>
  failed: ComputedRef<Error | null>
  send: (draft: Draft, password?: string) => Promise<Sent>
  /** What was done on its own, such as sending a reading again behind somebody else's entry. */
  notice: Readonly<Ref<string>>
  tryOut: (draft: Draft) => Promise<EntryReply>
}

const KEY: InjectionKey<JobContext> = Symbol('job')

export function useJob(): JobContext {
  const job = inject(KEY)
  if (!job) throw new Error('useJob is used outside a job page')
  return job
}

/** A reading that is taken live must be taken now or not at all. */
function isLive(draft: Draft): boolean {
  return (draft.kind === 'read' && draft.shown.from === 'live') || ('counts' in draft && draft.counts.from === 'live')
}

const keep = (job: string, sending: Sending | null): void => keepFor('waiting', job, sending && JSON.stringify(sending))

function kept(job: string): Sending | null {
  try {
    return JSON.parse(keptFor('waiting', job) ?? 'null') as Sending | null
  } catch {
    return null
  }
}

export function provideJob(id: string): JobContext {
  const query = useJobQuery(id)
  const waiting = ref<Sending | null>(kept(id))
  const trouble = ref<Failure | null>(null)
  const busy = ref(false)
  const notice = ref('')
  // What waits is sent by whoever entered it, and by nobody else.
  const owner = session.person.value?.id
  let timer: ReturnType<typeof setTimeout> | undefined
  let pause = 1000

  // Somebody else works on it too: what they enter is seen at once. What this page enters it knows already.
  useEvents(`/api/jobs/${id}/changes`, (data) => {
    const { head } = JSON.parse(data) as { head: number }
    const known = query.data.value?.job.head_seq ?? 0
    if (!busy.value && (head === 0 || head > known)) void queryClient.invalidateQueries({ queryKey: ['job', id] })
  })

  function hold(sending: Sending | null): void {
    waiting.value = sending
    keep(id, sending)
  }

  async function post(sending: Sending, password?: string): Promise<Sent> {
    busy.value = true
    try {
      const { job, assessment } = await postEntry(id, sending, false, password)
      // An answer that was asked for before the entry was stored must not come after this one.
      await queryClient.cancelQueries({ queryKey: ['job', id] })
      queryClient.setQueryData(['job', id], { job, assessment })
      void queryClient.invalidateQueries({ queryKey: ['scales'] })
      void queryClient.invalidateQueries({ queryKey: ['jobs'] })
      hold(null)
      trouble.value = null
      pause = 1000
      return 'stored'
    } catch (error) {
      const failure = error instanceof Failure ? error : new Failure(0, null)
      return await failed(sending, failure, password)
    } finally {
      busy.value = false
    }
  }

  async function failed(sending: Sending, failure: Failure, password?: string): Promise<Sent> {
    if (failure.status === 401) askToSignIn()
    if (failure.code === 'stale' && !sending.again && !isLive(sending.draft) && sending.draft.kind === 'read') {
      // What was typed still holds behind an entry of somebody else: once, and it is said.
      await queryClient.refetchQueries({ queryKey: ['job', id] })
      const after = query.data.value?.assessment.entries.at(-1)?.seq
      if (after !== undefined && after > sending.after) {
        busy.value = false
        const sent = await post({ ...sending, after, again: true })
        if (sent === 'stored') notice.value = say('use-job-somebody-else-had-entered-something')
        return sent
      }
    }
    // A signature is never sent again by itself.
    if (failure.passes && !isLive(sending.draft) && password === undefined) {
      hold(sending)
      trouble.value = failure
      schedule()
      return 'waiting'
    }
    hold(null)
    if (failure.passes || failure.code === 'stale') await queryClient.invalidateQueries({ queryKey: ['job', id] })
    return failure
  }

  function schedule(): void {
    clearTimeout(timer)
    timer = setTimeout(() => void again(), pause)
    pause = Math.min(pause * 2, 5000)
  }

  async function again(): Promise<void> {
    if (!waiting.value || busy.value) return
    if (session.asking.value) return schedule()
    if (session.person.value?.id !== owner) return
    const sent = await post(waiting.value)
    if (sent instanceof Failure) trouble.value = sent
  }

  async function send(draft: Draft, password?: string): Promise<Sent> {
    notice.value = ''
    const after = query.data.value?.assessment.entries.at(-1)?.seq
    if (after === undefined || waiting.value || busy.value) return 'waiting'
    trouble.value = null
    const sending: Sending = { id: uuidv7(), after, draft }
    // Kept before it is sent: a page that is closed in the middle sends it again, harmlessly.
    if (!isLive(draft) && password === undefined) keep(id, sending)
    return post(sending, password)
  }

  function tryOut(draft: Draft): Promise<EntryReply> {
    const after = query.data.value?.assessment.entries.at(-1)?.seq ?? 0
    return postEntry(id, { id: uuidv7(), after, draft }, true)
  }

  watch(session.asking, (asking) => {
    if (!asking) void again()
  })
  if (waiting.value) schedule()
  onBeforeUnmount(() => clearTimeout(timer))

  const context: JobContext = {
    id,
    reply: computed(() => query.data.value),
    assessment: computed(() => query.data.value?.assessment),
    frozen: computed(() => Boolean(query.data.value?.job.closed_at)),
    waiting: readonly(waiting) as Readonly<Ref<Sending | null>>,
    trouble: readonly(trouble) as Readonly<Ref<Failure | null>>,
    busy: readonly(busy),
    notice: readonly(notice),
    failed: computed(() => query.error.value),
    send,
    tryOut,
  }
  provide(KEY, context)
  return context
}
