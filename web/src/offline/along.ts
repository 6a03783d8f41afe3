import { computed, ref, shallowRef } from 'vue'
import { Failure, api, settled } from '../api/client'
import type { Schema } from '../api/types'
import { session } from '../state/session'
import { fromServer, jsonFromServer } from './connection'
import { type Sealed, held, workshopIsOld } from './held'
import { vault } from './vault'

type ScaleRow = Schema<'ScaleRow'>

/** What was taken along, and when. */
export interface Along {
  at: string
  scales: { row: ScaleRow; at: string }[]
}

const along = shallowRef<Along | null>(null)
export const taking = ref<{ done: number; of: number } | null>(null)

export const carried = {
  along: computed(() => along.value),
  has: (scale: string): boolean => Boolean(along.value?.scales.some((s) => s.row.sheet.id === scale)),
  async look(): Promise<void> {
    along.value = (await vault.get<Along>('along')) ?? null
  },
  clear: (): void => void (along.value = null),
}

/** What every job needs, whatever the scale. */
const SHARED = [
  '/api/session',
  '/api/vocabulary',
  '/api/kit?search=',
  '/api/kit/classes',
  '/api/instruments',
  '/api/priors',
  '/api/letterhead',
  '/api/span-weight-rule',
  '/api/sites',
  '/api/profiles',
  '/api/defaults',
  '/api/offline/workshop',
]

const ofScale = (id: string): string[] => [
  `/api/scales/${id}`,
  `/api/scales/${id}/history`,
  `/api/files?of=scale&id=${id}`,
]

/** The limit of what a browser gives, and what is used of it, in bytes. */
export async function room(): Promise<{ used: number; of: number; persists: boolean }> {
  const { usage = 0, quota = 0 } = (await navigator.storage?.estimate?.()) ?? {}
  const persists = (await navigator.storage?.persisted?.()) ?? false
  return { used: usage, of: quota, persists }
}

async function pictures(id: string, files: Schema<'FileRow'>[]): Promise<[string, unknown][]> {
  const out: [string, unknown][] = []
  for (const file of files.filter((f) => f.media.startsWith('image/'))) {
    out.push([`picture/${id}/${file.id}`, await (await fromServer(`/api/files/${file.id}`)).arrayBuffer()])
  }
  return out
}

/** The files of the weights' certificates, those of the last one of each piece. */
async function certificates(): Promise<void> {
  for (const { piece, files } of (await vault.get<Schema<'PieceView'>[]>('answer/api/kit?search=')) ?? []) {
    const number = piece.certificates?.at(-1)?.number
    if (!number || !files.includes(number)) continue
    const path = certificatePath(piece.id, number)
    if (!(await vault.names(`file${path}`)).length)
      await vault.keep([[`file${path}`, await (await fromServer(path)).arrayBuffer()]])
  }
}

export const certificatePath = (piece: string, number: string): string =>
  `/api/kit/${piece}/certificates/${encodeURIComponent(number)}`

/** The same as it is kept here; null where it is not. */
export async function certificateHere(piece: string, number: string): Promise<string | null> {
  const bytes = await vault.bytes(`file${certificatePath(piece, number)}`)
  return bytes ? URL.createObjectURL(new Blob([bytes])) : null
}

async function takeScale(row: ScaleRow): Promise<void> {
  const id = row.sheet.id
  const things: [string, unknown][] = []
  for (const path of ofScale(id)) things.push([`answer${path}`, await jsonFromServer(path)])
  things.push([`scale/${id}`, await jsonFromServer(`/api/offline/scales/${id}`)])
  const files = things.find(([name]) => name.includes('/api/files?'))?.[1] as Schema<'FileRow'>[]
  things.push(...(await pictures(id, files)))
  await vault.keep(things)
  if (row.open_job && !held.get(row.open_job)) await takeJob(row.open_job, row)
}

async function takeJob(id: string, row: ScaleRow): Promise<void> {
  const { job } = await settled(api.GET('/api/jobs/{id}', { params: { path: { id } } }))
  const entries = await jsonFromServer<Sealed[]>(`/api/jobs/${id}/entries?after=0`)
  const { id: scale, name, owner } = row.sheet
  await held.keep({
    id,
    scale,
    name,
    owner,
    home: entries.at(-1)?.seq ?? 0,
    entries,
    signatures: {},
    number: job.number,
    closed_at: job.closed_at,
  })
}

/** A scale as it stands in the list. */
export async function rowOf(id: string): Promise<ScaleRow> {
  const { sheet } = await settled(api.GET('/api/scales/{id}', { params: { path: { id } } }))
  const found = await settled(api.GET('/api/scales', { params: { query: { search: sheet.serial || sheet.name } } }))
  const row = (found.scales as ScaleRow[]).find((r) => r.sheet.id === id)
  if (!row) throw new Failure(404, null)
  return row
}

/** Takes scales along, with all that is needed at them; what was taken before of others stays. */
export async function takeAlong(rows: ScaleRow[]): Promise<void> {
  const steps = SHARED.length + rows.length
  taking.value = { done: 0, of: steps }
  const step = (): void => void (taking.value = { done: (taking.value?.done ?? 0) + 1, of: steps })
  try {
    await navigator.storage?.persist?.()
    for (const path of SHARED) {
      await vault.keep([[`answer${path}`, await jsonFromServer(path)]])
      step()
    }
    const profiles = (await vault.get<{ id: string }[]>('answer/api/profiles')) ?? []
    for (const { id } of profiles)
      await vault.keep([[`answer/api/profiles/${id}`, await jsonFromServer(`/api/profiles/${id}`)]])
    await certificates()
    workshopIsOld()
    const at = new Date().toISOString()
    for (const row of rows) {
      await takeScale(row)
      const others = (along.value?.scales ?? []).filter((s) => s.row.sheet.id !== row.sheet.id)
      const now: Along = { at, scales: [...others, { row: JSON.parse(JSON.stringify(row)) as ScaleRow, at }] }
      await vault.keep([['along', now]])
      along.value = now
      step()
    }
    if (session.person.value) await vault.settle(session.person.value as Schema<'Person'>)
  } finally {
    taking.value = null
  }
}

/** Leaves a scale at home again; a job at it that the server does not have whole stays. */
export async function leaveBehind(scale: string): Promise<void> {
  const now: Along = {
    at: along.value?.at ?? '',
    scales: (along.value?.scales ?? []).filter((s) => s.row.sheet.id !== scale),
  }
  await vault.keep([['along', now]])
  along.value = now
  const names = await vault.names(`picture/${scale}/`)
  await vault.remove([`scale/${scale}`, ...ofScale(scale).map((path) => `answer${path}`), ...names])
  for (const job of held.all.value)
    if (job.scale === scale && job.home === (job.entries.at(-1)?.seq ?? 0)) await held.drop(job.id)
}
