import { v7 as uuidv7 } from 'uuid'
import { ref } from 'vue'
import { Failure } from '../api/client'
import { type Sending, postEntry, type useJobQuery } from '../api/jobs'
import { queryClient } from '../api/queries'
import type { Draft } from '../api/types'
import { keepFor, keptFor } from '../state/own'
import { askToSignIn, session } from '../state/session'
import { say } from '../words'

/** What became of an entry: stored, refused (why), or kept here until it can be stored. */
export type Sent = 'stored' | 'waiting' | Failure

const FIRST_PAUSE_MS = 1000
const LONGEST_PAUSE_MS = 5000

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

/** Sends the entries of a job, one after the other; what cannot be stored now is kept and sent again. */
export class Outbox {
  readonly waiting
  readonly trouble = ref<Failure | null>(null)
  readonly busy = ref(false)
  readonly notice = ref('')
  // What waits is sent by whoever entered it, and by nobody else.
  private readonly owner = session.person.value?.id
  private timer: ReturnType<typeof setTimeout> | undefined
  private pause = FIRST_PAUSE_MS

  constructor(
    private readonly id: string,
    private readonly query: ReturnType<typeof useJobQuery>,
  ) {
    this.waiting = ref<Sending | null>(kept(id))
    if (this.waiting.value) this.schedule()
  }

  async send(draft: Draft, password?: string): Promise<Sent> {
    this.notice.value = ''
    const after = this.head()
    if (after === undefined || this.waiting.value || this.busy.value) return 'waiting'
    this.trouble.value = null
    const sending: Sending = { id: uuidv7(), after, draft }
    // Kept before it is sent: a page that is closed in the middle sends it again, harmlessly.
    if (!isLive(draft) && password === undefined) keep(this.id, sending)
    return this.post(sending, password)
  }

  async again(): Promise<void> {
    if (!this.waiting.value || this.busy.value) return
    if (session.asking.value) return this.schedule()
    if (session.person.value?.id !== this.owner) return
    const sent = await this.post(this.waiting.value)
    if (sent instanceof Failure) this.trouble.value = sent
  }

  stop(): void {
    clearTimeout(this.timer)
  }

  private head(): number | undefined {
    return this.query.data.value?.assessment.entries.at(-1)?.seq
  }

  private hold(sending: Sending | null): void {
    this.waiting.value = sending
    keep(this.id, sending)
  }

  private async post(sending: Sending, password?: string): Promise<Sent> {
    this.busy.value = true
    try {
      const { job, assessment } = await postEntry(this.id, sending, false, password)
      // An answer that was asked for before the entry was stored must not come after this one.
      await queryClient.cancelQueries({ queryKey: ['job', this.id] })
      queryClient.setQueryData(['job', this.id], { job, assessment })
      void queryClient.invalidateQueries({ queryKey: ['scales'] })
      void queryClient.invalidateQueries({ queryKey: ['jobs'] })
      this.hold(null)
      this.trouble.value = null
      this.pause = FIRST_PAUSE_MS
      return 'stored'
    } catch (error) {
      const failure = error instanceof Failure ? error : new Failure(0, null)
      return await this.failed(sending, failure, password)
    } finally {
      this.busy.value = false
    }
  }

  private async failed(sending: Sending, failure: Failure, password?: string): Promise<Sent> {
    if (failure.status === 401) askToSignIn()
    if (failure.code === 'stale' && !sending.again && !isLive(sending.draft) && sending.draft.kind === 'read') {
      // What was typed still holds behind an entry of somebody else: once, and it is said.
      await queryClient.refetchQueries({ queryKey: ['job', this.id] })
      const after = this.head()
      if (after !== undefined && after > sending.after) {
        this.busy.value = false
        const sent = await this.post({ ...sending, after, again: true })
        if (sent === 'stored') this.notice.value = say('use-job-somebody-else-had-entered-something')
        return sent
      }
    }
    // A signature is never sent again by itself.
    if (failure.passes && !isLive(sending.draft) && password === undefined) {
      this.hold(sending)
      this.trouble.value = failure
      this.schedule()
      return 'waiting'
    }
    this.hold(null)
    if (failure.passes || failure.code === 'stale') await queryClient.invalidateQueries({ queryKey: ['job', this.id] })
    return failure
  }

  private schedule(): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.again(), this.pause)
    this.pause = Math.min(this.pause * 2, LONGEST_PAUSE_MS)
  }
}
