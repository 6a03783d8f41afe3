import { Failure } from '../api/client'
import type { Schema } from '../api/types'
import { session } from '../state/session'
import { carried } from './along'
import { Lost } from './core'
import { type HeldJob, held, isPending } from './held'
import { lookUpHere } from './lookup'
import { type NewEntry, begin, enter, filesOf, jobReply, keepFile, openJobs, question } from './local'
import { connection } from './connection'
import { portOf } from './port'
import { vault } from './vault'
import { message } from '../words'

// Stands in for the server: jobs that the server does not have whole are answered here, and so is everything that was taken along while
// the server does not answer. Whoever asks does not know which.

/** How long a job that is held here waits for the server before it goes on without it. */
const PATIENCE_MS = 8_000

const json = (value: unknown, status = 200): Response =>
  new Response(JSON.stringify(value), { status, headers: { 'content-type': 'application/json' } })

function told(error: unknown): Response {
  if (error instanceof Failure && error.problem) return json(error.problem, error.status)
  throw error
}

const JOB = /^\/api\/jobs\/([0-9a-f-]{36})(?:\/(\w+))?$/

interface Asked {
  method: string
  path: string
  query: URLSearchParams
  request: Request
}

async function ofJob(asked: Asked, job: HeldJob, what: string | undefined): Promise<Response> {
  if (asked.method === 'GET' && !what) return json(await jobReply(job))
  if (what === 'entries' && asked.method === 'POST') {
    const entry = (await asked.request.clone().json()) as NewEntry
    return json(await enter(job, entry))
  }
  const body = asked.method === 'POST' ? ((await asked.request.clone().json()) as object) : {}
  return json(await question(job, what ?? '', body, asked.query))
}

/** Once more where the core lost what it held in the middle. */
async function local(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work()
  } catch (error) {
    if (!(error instanceof Lost)) return told(error)
  }
  return work().catch(told)
}

async function fileOfJob(asked: Asked): Promise<Response | null> {
  const put = /^\/api\/files\/([0-9a-f-]{36})$/.exec(asked.path)
  const of = asked.query.get('of') === 'job' ? held.get(asked.query.get('id') ?? '') : undefined
  if (!of || !isPending(of)) return null
  if (asked.method === 'PUT' && put?.[1])
    return json(await keepFile(of, put[1], asked.query, await asked.request.clone().arrayBuffer()))
  if (asked.method === 'GET' && asked.path === '/api/files') return json(await filesOf(of.id))
  return null
}

/** What the server does not have yet is answered here, whether or not it would answer. */
async function pending(asked: Asked): Promise<Response | null> {
  const [, id, what] = JOB.exec(asked.path) ?? []
  if (!id) return fileOfJob(asked)
  const here = async (): Promise<Response | null> => {
    const job = held.get(id)
    return job && (isPending(job) || portOf(job.scale)) ? local(() => ofJob(asked, job, what)) : null
  }
  if (!held.get(id)) return null
  return asked.method === 'POST' && what === 'entries' ? held.alone(id, here) : here()
}

function scalesAlong(search: string): Schema<'ScalePage'> {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const rows = (carried.along.value?.scales ?? []).map(({ row }) => {
    const open = held.all.value.find((job) => job.scale === row.sheet.id && !job.closed_at)
    return { ...row, open_job: open?.id ?? null }
  })
  const says = ({ sheet }: Schema<'ScaleRow'>) =>
    `${sheet.name} ${sheet.owner} ${sheet.place} ${sheet.serial}`.toLowerCase()
  return { scales: rows.filter((row) => words.every((word) => says(row).includes(word))), next: null }
}

/** The server does not answer: what was taken along answers. */
async function instead(asked: Asked): Promise<Response | null> {
  if (!vault.lock.value) {
    // Whoever has something here signs in here.
    const asks = asked.path === '/api/session' && asked.method === 'GET' && vault.locks.value.length > 0
    return asks
      ? json({ type: 'urn:ombret:problem:signed_out', message: message('problem-signed-out-detail') }, 401)
      : null
  }
  const [, id, what] = JOB.exec(asked.path) ?? []
  const job = id ? held.get(id) : undefined
  if (id && job) return held.alone(id, () => local(() => ofJob(asked, held.get(id) ?? job, what)))
  if (asked.path === '/api/jobs' && asked.method === 'POST') {
    const { id: made, scale_id } = (await asked.request.clone().json()) as { id: string; scale_id: string }
    return held.alone(made, () => local(async () => json(await begin(made, scale_id), 201)))
  }
  if (asked.path === '/api/session' && asked.method === 'GET') return json(vault.lock.value.person)
  if (asked.method !== 'GET') return null
  if (asked.path === '/api/jobs') return json(openJobs(true))
  if (asked.path === '/api/scales') return json(scalesAlong(asked.query.get('search') ?? ''))
  if (asked.path === '/api/review') return json([])
  if (asked.path === '/api/lookup') return json(await lookUpHere(asked.query.get('q') ?? '', carried.along.value))
  const query = asked.query.size ? `?${asked.query}` : ''
  const kept = await vault.get(`answer${asked.path}${query}`)
  return kept === undefined ? null : json(kept)
}

/** Open jobs that the server does not know of stand beside those that it knows. */
async function withOwn(asked: Asked, response: Response): Promise<Response> {
  if (asked.path !== '/api/jobs' || asked.method !== 'GET' || !response.ok) return response
  const rows = (await response.json()) as Schema<'JobRow'>[]
  const own = openJobs(false)
  return json([...own, ...rows.filter((row) => !own.some((o) => o.id === row.id))])
}

export async function reach(request: Request): Promise<Response> {
  const { pathname: path, searchParams: query } = new URL(request.url)
  const asked: Asked = { method: request.method, path, query, request }
  const here = vault.lock.value ? await pending(asked) : null
  if (here) return here
  const [, id] = JOB.exec(path) ?? []
  const patient = !id || !held.get(id)
  const signal = patient ? null : AbortSignal.any([request.signal, AbortSignal.timeout(PATIENCE_MS)])
  try {
    const response = await fetch(request.clone(), signal ? { signal } : {})
    // A gateway that cannot reach the server is no server; what the server itself says is an answer.
    const own = response.headers.get('content-type')?.startsWith('application/problem+json')
    if (!own && (response.status === 502 || response.status === 504)) throw new TypeError('no server')
    connection.heard()
    return await withOwn(asked, response)
  } catch (error) {
    if (request.signal.aborted) throw error
    connection.missed()
    const found = await instead(asked)
    if (found) return found
    throw error
  }
}

/** Somebody signs in while the server does not answer: the password opens what is kept here. */
export async function signInHere(password: string): Promise<Schema<'Person'> | null> {
  const person = await vault.unlock(password)
  if (!person) return null
  await Promise.all([held.look(), carried.look()])
  return session.person.value?.id === person.id ? (session.person.value as Schema<'Person'>) : person
}
