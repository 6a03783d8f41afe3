import { v7 as uuidv7 } from 'uuid'
import { readonly, ref, shallowRef } from 'vue'
import { Failure } from '../api/client'
import { queryClient } from '../api/queries'
import type { Schema } from '../api/types'
import { askToSignIn, session } from '../state/session'
import { revived } from '../words'
import { carried } from './along'
import { fromServer, jsonFromServer } from './connection'
import { type HeldJob, type Sealed, held, unsent } from './held'
import { vault } from './vault'

// What was entered away goes home: job by job, each entry in its order, with the files that it names before it.
// Sending twice is harmless: what is home already is known there by its identity.

type HomeReply = Schema<'HomeReply'>

const bringing = ref<{ done: number; of: number; job: string } | null>(null)
const trouble = shallowRef<Failure | null>(null)
/** The server has shut this device out. */
const unwelcome = ref(false)
let running: Promise<void> | undefined
let timer: ReturnType<typeof setTimeout> | undefined
const AGAIN_MS = 5_000

async function post<T>(path: string, body: object): Promise<T> {
  const headers = { 'content-type': 'application/json' }
  const response = await fromServer(path, { method: 'POST', headers, body: JSON.stringify(body) })
  return revived((await response.json()) as T)
}

/** Nothing is wrong with what was sent: it is sent again, and so is everything behind it. */
const waits = (error: unknown): boolean => error instanceof Failure && (error.passes || error.status >= 500)

async function sendFiles(job: HeldJob): Promise<void> {
  for (const name of await vault.names(`file/${job.id}/`)) {
    if (!name.endsWith('/row')) continue
    const row = await vault.get<Schema<'FileRow'>>(name)
    const bytes = await vault.bytes(name.replace(/row$/, 'bytes'))
    if (!row || !bytes) continue
    const query = new URLSearchParams({ of: 'job', id: job.id, name: row.name, caption: row.caption })
    const headers = { 'content-type': 'application/octet-stream' }
    await fromServer(`/api/files/${row.id}?${query}`, { method: 'PUT', headers, body: bytes })
  }
}

/** One job goes home. The identity of the homecoming is kept first, so that a lost answer is asked for again. */
async function bring(job: HeldJob): Promise<HomeReply> {
  const name = `homecoming/${job.id}`
  const last = job.entries.at(-1)?.id
  const begun = await vault.get<{ id: string; last: string }>(name)
  const id = begun && begun.last === last ? begun.id : uuidv7()
  await vault.keep([[name, { id, last }]])
  const lock = vault.lock.value
  const entries = job.entries.filter((e) => e.seq > job.home)
  const body = {
    id,
    device: lock?.device,
    clock: new Date().toISOString(),
    job: job.id,
    entries,
    signatures: job.signatures,
  }
  // A file belongs to a job that the server knows: a job that began away is made known by its first entry.
  if (job.home === 0) {
    const first = { ...body, id: uuidv7(), entries: entries.slice(0, 1) }
    const files = await vault.names(`file/${job.id}/`)
    if (files.length) await post<HomeReply>('/api/offline/home', first)
  }
  await sendFiles(job)
  return post<HomeReply>('/api/offline/home', body)
}

/** The job as the server has it now; it is taken along on, or it is the server's alone again. */
async function settle(job: HeldJob, came: HomeReply): Promise<void> {
  const entries = await jsonFromServer<Sealed[]>(`/api/jobs/${job.id}/entries?after=0`)
  held.stale(job.id)
  const { job: head } = await jsonFromServer<{ job: Schema<'JobHead'> }>(`/api/jobs/${job.id}`)
  if (head.closed_at || !carried.has(job.scale)) await held.drop(job.id)
  else await held.keep({ ...job, entries, home: entries.at(-1)?.seq ?? 0, number: came.number, closed_at: null })
  await vault.remove([`homecoming/${job.id}`])
}

async function all(): Promise<void> {
  const lock = vault.lock.value
  if (!lock || lock.person.id !== session.person.value?.id) return
  const { welcome } = await jsonFromServer<{ welcome: boolean }>(`/api/offline/devices/${lock.device}`)
  if (!welcome) {
    unwelcome.value = true
    await vault.forget(lock.person.id)
    held.clear()
    carried.clear()
    return
  }
  const waiting = held.all.value.filter((job) => unsent(job) > 0)
  let refused: Failure | null = null
  for (const [done, job] of waiting.entries()) {
    bringing.value = { done, of: waiting.length, job: job.name }
    const turn = async (): Promise<void> => {
      const now = held.get(job.id)
      if (now && unsent(now) > 0) await settle(now, await bring(now))
    }
    // One job that is refused keeps no other from going home.
    await held.alone(job.id, turn).catch((error: unknown) => {
      if (!(error instanceof Failure) || waits(error)) throw error
      refused = error
    })
  }
  trouble.value = refused
  if (waiting.length) await queryClient.invalidateQueries()
}

function again(): void {
  clearTimeout(timer)
  if (held.unsent.value > 0 && !unwelcome.value) timer = setTimeout(() => void home.bringAll(), AGAIN_MS)
}

export const home = {
  bringing: readonly(bringing),
  trouble,
  unwelcome,
  /** Brings home whatever is away; asked twice at once, it is done once. */
  bringAll(): Promise<void> {
    running ??= all()
      .catch((error: unknown) => {
        if (!(error instanceof Failure)) throw error
        if (error.status === 401) askToSignIn()
        trouble.value = error.status === 0 ? null : error
      })
      .finally(() => {
        running = undefined
        bringing.value = null
        again()
      })
    return running
  },
}
