import { v7 as uuidv7 } from 'uuid'
import { api, settled } from '../api/client'
import { postEntry } from '../api/jobs'
import { queryClient } from '../api/queries'
import type { Draft, EntryReply, SetupDraft, SetupJudgement } from '../api/types'
import { session } from '../state/session'
import { Lost, ask, hasCore, whenLost } from './core'
import { type Sealed, handWorkshop, held, isPending } from './held'

// What would come of something, as one types: the core in the page says it, and the server is not asked at every
// key. Where the page has no core, or cannot get the job, the server says it.

/** Where the core's copy of a job stands. */
const heads = new Map<string, number>()
whenLost(() => heads.clear())

const workshopNow = () => settled(api.GET('/api/offline/workshop'))

const entriesAfter = (job: string, after: number): Promise<Sealed[]> =>
  settled(api.GET('/api/jobs/{id}/entries', { params: { path: { id: job }, query: { after } } }))

/** Brings the core's copy of a job to the entry that the page knows. */
async function bringUp(job: string, seq: number): Promise<void> {
  const kept = held.get(job)
  if (kept && isPending(kept)) return held.hand(kept)
  await handWorkshop(workshopNow)
  const head = heads.get(job)
  if (head === seq) return
  if (head === undefined || head > seq) {
    await ask({ ask: 'open', job, entries: await entriesAfter(job, 0) })
  } else {
    await ask({ ask: 'follow', job, entries: await entriesAfter(job, head) })
  }
  held.stale(job)
  heads.set(job, seq)
}

/** One after the other: two that bring the same job up would do it twice. */
let last: Promise<unknown> = Promise.resolve()
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const now = last.catch(() => undefined).then(work)
  last = now
  return now
}

/** The core is made ready for a job that somebody looks at; nobody waits for it. */
export function makeReady(job: string, seq: number): void {
  if (hasCore) void inTurn(() => bringUp(job, seq)).catch(() => heads.delete(job))
}

async function byCore<T>(job: string, seq: number, question: () => Promise<T>, server: () => Promise<T>): Promise<T> {
  if (!hasCore) return server()
  try {
    return await inTurn(async () => {
      await bringUp(job, seq)
      return question()
    })
  } catch (error) {
    if (!(error instanceof Lost) && !(error instanceof Error && 'status' in error && error.status !== 422)) throw error
    // The core lost the job, or could not get it: the server knows it.
    heads.delete(job)
    return server()
  }
}

/** What a live reading is, only whoever reads the indicator knows. */
const isLive = (draft: Draft): boolean =>
  (draft.kind === 'read' && draft.shown.from === 'live') || ('counts' in draft && draft.counts.from === 'live')

/** What would come of an entry. */
export function tryOut(job: string, after: number, draft: Draft): Promise<EntryReply> {
  const server = () => postEntry(job, { id: uuidv7(), after, draft }, true)
  if (isLive(draft)) return server()
  const person = session.person.value
  const question = async (): Promise<EntryReply> => {
    const told = await ask<Omit<EntryReply, 'job'>>({
      ask: 'enter',
      job,
      after,
      draft,
      try_only: true,
      author: { entry: uuidv7(), at: new Date().toISOString(), by: { id: person?.id, name: person?.name } },
      roles: person?.roles ?? [],
    })
    return { ...told, job: queryClient.getQueryData<EntryReply>(['job', job])?.job as EntryReply['job'] }
  }
  return byCore(job, after, question, server)
}

/** What is wrong with a set-up that is thought of. */
export function judgeSetup(job: string, seq: number, setup: SetupDraft): Promise<SetupJudgement> {
  const server = () =>
    settled(
      api.POST('/api/jobs/{id}/judge', { params: { path: { id: job } }, body: { setup } }),
    ) as Promise<SetupJudgement>
  return byCore(job, seq, () => ask<SetupJudgement>({ ask: 'judge', job, setup }), server)
}
