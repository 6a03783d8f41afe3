import {
  type ComputedRef,
  type InjectionKey,
  type Ref,
  computed,
  inject,
  onBeforeUnmount,
  provide,
  readonly,
  watch,
} from 'vue'
import type { Failure } from '../api/client'
import { type Sending, useJobQuery } from '../api/jobs'
import * as rules from '../offline/rules'
import { queryClient } from '../api/queries'
import type { Assessment, Draft, EntryReply, JobReply } from '../api/types'
import { useEvents } from '../state/events'
import { session } from '../state/session'
import { Outbox, type Sent } from './outbox'

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

export function provideJob(id: string): JobContext {
  const query = useJobQuery(id)
  const outbox = new Outbox(id, query)
  const { waiting, trouble, busy, notice } = outbox
  onBeforeUnmount(() => outbox.stop())
  watch(session.asking, (asking) => {
    if (!asking) void outbox.again()
  })
  // Somebody else works on it too: what they enter is seen at once. What this page enters it knows already.
  useEvents(`/api/jobs/${id}/changes`, (data) => {
    const { head } = JSON.parse(data) as { head: number }
    const known = query.data.value?.job.head_seq ?? 0
    if (!busy.value && (head === 0 || head > known)) void queryClient.invalidateQueries({ queryKey: ['job', id] })
  })

  function tryOut(draft: Draft): Promise<EntryReply> {
    const after = query.data.value?.assessment.entries.at(-1)?.seq ?? 0
    return rules.tryOut(id, after, draft)
  }

  // The core of the page has the job at hand before the first key.
  watch(
    () => query.data.value?.assessment.entries.at(-1)?.seq,
    (seq) => {
      if (seq && !query.data.value?.job.closed_at) rules.makeReady(id, seq)
    },
    { immediate: true },
  )

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
    send: (draft, password) => outbox.send(draft, password),
    tryOut,
  }
  provide(KEY, context)
  return context
}
