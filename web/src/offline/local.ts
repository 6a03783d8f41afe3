import { v7 as uuidv7 } from 'uuid'
import type { Assessment, Draft, Schema } from '../api/types'
import { say } from '../words'
import { carried } from './along'
import { ask, refusal } from './core'
import { type HeldJob, type Sealed, held, isPending } from './held'
import { portOf } from './port'
import { hex, vault } from './vault'

// What the server would answer of a job, answered here by the same core. Nothing is told as stored before it is on
// this device's disk.

interface Entered {
  sealed: Sealed
  understood: unknown
  assessment: Assessment
}

export interface NewEntry {
  id: string
  after: number
  draft: Draft
  try_only?: boolean
  password?: string | null
}

const author = (entry: string) => {
  const person = vault.lock.value?.person
  return { entry, at: new Date().toISOString(), by: { id: person?.id, name: person?.name } }
}

export const nowS = (): number => performance.now() / 1000

/** A job as the server tells of it. */
function headOf(job: HeldJob): Schema<'JobHead'> {
  return {
    id: job.id,
    scale_id: job.scale,
    head_seq: job.entries.at(-1)?.seq ?? 0,
    closed_at: job.closed_at,
    imported: false,
    // The server gives the number; until then the mark is one that nobody takes for it.
    number:
      job.number ?? (job.closed_at ? say('offline-no-number-yet', { mark: job.id.slice(-4).toUpperCase() }) : null),
  }
}

export async function jobReply(job: HeldJob): Promise<unknown> {
  await held.hand(job)
  return { job: headOf(job), assessment: await ask<Assessment>({ ask: 'assess', job: job.id }) }
}

/** Begins a job at a scale that was taken along. */
export async function begin(id: string, scale: string): Promise<unknown> {
  const there = held.get(id)
  if (there) return jobReply(there)
  const along = await vault.get<{ sheet: Schema<'ScaleSheet'>; before: unknown }>(`scale/${scale}`)
  if (!along) throw refusal('not_along', 'offline-this-scale-was-not-taken')
  const begun = await ask<{ sealed: Sealed[] }>({ ask: 'begin', job: id, author: author(uuidv7()), ...along })
  const { name, owner } = along.sheet
  const entries = begun.sealed
  const job: HeldJob = { id, scale, name, owner, home: 0, entries, signatures: {}, number: null, closed_at: null }
  await held.keep(job)
  return jobReply(job)
}

/** A record is signed here as at the server: by the password, which opens the device's own signing key. */
async function asks(job: HeldJob, password: string | null | undefined): Promise<void> {
  const scale = carried.along.value?.scales.find(({ row }) => row.sheet.id === job.scale)
  if (scale?.row.sheet.practice) return
  if (!password) throw refusal('password_needed', 'offline-your-password-signs-the-record', 'password')
  if (!(await vault.is(password))) throw refusal('wrong_password', 'offline-this-is-not-your-password', 'password')
}

/** The job with a new entry, signed where the entry signs. */
async function grown(job: HeldJob, sealed: Sealed): Promise<HeldJob> {
  const next = { ...job, entries: [...job.entries, sealed] }
  if (sealed.body.kind !== 'closed') return next
  const signature = await vault.sign(`ombret.device/${sealed.hash}`)
  return { ...next, signatures: { ...job.signatures, [sealed.hash]: signature }, closed_at: sealed.at }
}

/** Enters something, or says what would come of it. */
export async function enter(job: HeldJob, entry: NewEntry): Promise<unknown> {
  await held.hand(job)
  if (entry.draft.kind === 'closed' && !entry.try_only) await asks(job, entry.password)
  const { sealed, understood, assessment } = await ask<Entered>({
    ask: 'enter',
    job: job.id,
    after: entry.after,
    author: author(entry.id),
    draft: entry.draft,
    try_only: entry.try_only ?? false,
    roles: vault.lock.value?.person.roles ?? [],
    number: job.number,
    port: portOf(job.scale),
    now_s: nowS(),
  })
  const known = entry.try_only || job.entries.some((e) => e.id === sealed.id)
  if (known) return { job: headOf(job), understood, assessment }
  const next = await grown(job, sealed)
  try {
    await held.keep(next)
  } catch (error) {
    // The core has it and the disk refused it: it must not go on as if it were stored.
    held.stale(job.id)
    throw error
  }
  return { job: headOf(next), understood, assessment }
}

/** Keeps a photograph or a file of a job until it can be sent. */
export async function keepFile(job: HeldJob, id: string, asked: URLSearchParams, bytes: ArrayBuffer): Promise<unknown> {
  const head = [...new Uint8Array(bytes.slice(0, 16))]
  const media = await ask<string>({ ask: 'media', size: bytes.byteLength, head })
  const row: Schema<'FileRow'> = {
    id,
    name: asked.get('name') ?? '',
    caption: asked.get('caption') ?? '',
    media,
    sha256: hex(await crypto.subtle.digest('SHA-256', bytes)),
    size: bytes.byteLength,
    by: vault.lock.value?.person.name ?? '',
    made_at: new Date().toISOString(),
  }
  await vault.keep([
    [`file/${job.id}/${id}/row`, row],
    [`file/${job.id}/${id}/bytes`, bytes],
  ])
  return row
}

export async function filesOf(job: string): Promise<Schema<'FileRow'>[]> {
  const rows: Schema<'FileRow'>[] = []
  for (const name of (await vault.names(`file/${job}/`)).filter((n) => n.endsWith('/row'))) {
    const row = await vault.get<Schema<'FileRow'>>(name)
    if (row) rows.push(row)
  }
  return rows
}

/** The address of a file: the server's, or what is kept of it here. */
export async function fileAddress(of: string, owner: string, id: string): Promise<string> {
  const kept =
    (await vault.bytes(`file/${owner}/${id}/bytes`)) ??
    (of === 'scale' ? await vault.bytes(`picture/${owner}/${id}`) : undefined)
  return kept ? URL.createObjectURL(new Blob([kept])) : `/api/files/${id}`
}

/** What is asked of a job beside its entries. */
export async function question(job: HeldJob, what: string, body: object, query: URLSearchParams): Promise<unknown> {
  await held.hand(job)
  const of = { job: job.id, at: new Date().toISOString(), port: portOf(job.scale), now_s: nowS() }
  switch (what) {
    case 'judge':
    case 'plan':
    case 'keying':
    case 'messages':
      return ask({ ...of, ask: what, ...body })
    case 'diagnosis':
      return ask({ ...of, ask: 'diagnosis', stage: query.get('stage') })
    case 'file':
      return ask({ ...of, ask: 'file', program: 'ombret' })
    case 'entries':
      return ask({ ...of, ask: 'entries', after: Number(query.get('after') ?? 0) })
    // What becomes of it on paper is settled at home.
    case 'paper':
      return { certificate: false, label: false, lacks: [] }
    case 'versions':
      return []
    default:
      throw refusal('not_here', 'offline-this-needs-the-server')
  }
}

/** Jobs that are open here, as the list of open jobs has them; all of them, or those that the server does not know. */
export const openJobs = (all: boolean): Schema<'JobRow'>[] =>
  held.all.value
    .filter((job) => !job.closed_at && (all || isPending(job)))
    .map((job) => ({
      id: job.id,
      scale_id: job.scale,
      scale: job.name,
      owner: job.owner,
      place: '',
      started_at: job.entries[0]?.at ?? '',
      started_by: job.entries[0]?.by.name ?? '',
      entries: job.entries.length,
      sent_back: null,
    }))
