import { v7 as uuidv7 } from 'uuid'
import { readonly, ref, shallowRef } from 'vue'
import { Failure } from '../api/client'
import { queryClient } from '../api/queries'
import type { Problem, Schema } from '../api/types'
import { askToSignIn, session } from '../state/session'
import { revived } from '../words'
import { carried } from './along'
import { connection } from './connection'
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
const LONGEST_MS = 30_000

async function call<T>(method: string, path: string, body?: object | ArrayBuffer): Promise<T> {
  const bytes = body instanceof ArrayBuffer
  const type = bytes ? 'application/octet-stream' : 'application/json'
  const init: RequestInit = { method, headers: { 'content-type': type }, signal: AbortSignal.timeout(LONGEST_MS) }
  if (body) init.body = bytes ? body : JSON.stringify(body)
  const response = await fetch(path, init).catch(() => {
    connection.missed()
    throw new Failure(0, null)
  })
  connection.heard()
  const told: unknown = await response.json().catch(() => null)
  if (!response.ok) throw new Failure(response.status, revived(told as Problem | null))
  return revived(told as T)
}

async function sendFiles(job: HeldJob): Promise<void> {
  for (const name of await vault.names(`file/${job.id}/`)) {
    if (!name.endsWith('/row')) continue
    const row = await vault.get<Schema<'FileRow'>>(name)
    const bytes = await vault.bytes(name.replace(/row$/, 'bytes'))
    if (!row || !bytes) continue
    const query = new URLSearchParams({ of: 'job', id: job.id, name: row.name, caption: row.caption })
    await call('PUT', `/api/files/${row.id}?${query}`, bytes)
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
  const send = () => call<HomeReply>('POST', '/api/away/home', body)
  // A file belongs to a job that the server knows: a job that began away is made known by its first entry.
  if (job.home === 0) {
    const first = { ...body, id: uuidv7(), entries: entries.slice(0, 1) }
    const files = await vault.names(`file/${job.id}/`)
    if (files.length && !(await knows(job.id))) await call<HomeReply>('POST', '/api/away/home', first)
  }
  await sendFiles(job)
  return send()
}

async function knows(job: string): Promise<boolean> {
  try {
    await call('GET', `/api/jobs/${job}`)
    return true
  } catch (error) {
    if (error instanceof Failure && error.status === 404) return false
    throw error
  }
}

/** The job as the server has it now; it is taken along on, or it is the server's alone again. */
async function settle(job: HeldJob, came: HomeReply): Promise<void> {
  const entries = await call<Sealed[]>('GET', `/api/jobs/${job.id}/entries?after=0`)
  held.stale(job.id)
  const { job: head } = await call<{ job: Schema<'JobHead'> }>('GET', `/api/jobs/${job.id}`)
  if (head.closed_at || !carried.has(job.scale)) await held.drop(job.id)
  else await held.keep({ ...job, entries, home: entries.at(-1)?.seq ?? 0, number: came.number, closed_at: null })
  await vault.remove([`homecoming/${job.id}`])
}

async function all(): Promise<void> {
  const lock = vault.lock.value
  if (!lock || lock.person.id !== session.person.value?.id) return
  const { welcome } = await call<{ welcome: boolean }>('GET', `/api/away/devices/${lock.device}`)
  if (!welcome) {
    unwelcome.value = true
    await vault.forget(lock.person.id)
    held.clear()
    carried.clear()
    return
  }
  const waiting = held.all.value.filter((job) => unsent(job) > 0)
  for (const [done, job] of waiting.entries()) {
    bringing.value = { done, of: waiting.length, job: job.name }
    await held.alone(job.id, async () => {
      const now = held.get(job.id)
      if (now && unsent(now) > 0) await settle(now, await bring(now))
    })
  }
  trouble.value = null
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
