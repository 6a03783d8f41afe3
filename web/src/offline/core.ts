import { Failure } from '../api/client'
import type { Problem } from '../api/types'
import { message, revived } from '../words'

declare global {
  /** Where the core for the page lies; empty where the page was built without it. */
  const __CORE__: string
}

export interface Asked {
  id: number
  question: string
}

export type Told = { id: number } & ({ answer: string } | { lost: true })

interface Refusal {
  code: string
  message: unknown
  field: string | null
  what_to_do: unknown
  figures: Record<string, unknown>
  also?: Refusal[]
}

type Answer =
  | { ok: unknown }
  | { refused: Refusal }
  | { stale: { head: number; newer: unknown[] } }
  | { wrong_role: true }
  | { unknown: string }
  | { broken: string }

/** Whether this page can work with its own core. */
export const hasCore = __CORE__ !== '' && typeof Worker !== 'undefined' && typeof WebAssembly !== 'undefined'

/** The core has lost what it held, and must be given it again. */
export class Lost extends Error {}

let worker: Worker | undefined
let count = 0
const open = new Map<number, { resolve: (answer: string) => void; reject: (error: Error) => void }>()
const onLost = new Set<() => void>()

/** Tells when the core has lost what it held. */
export function whenLost(told: () => void): void {
  onLost.add(told)
}

function lost(): void {
  for (const { reject } of open.values()) reject(new Lost())
  open.clear()
  for (const told of onLost) told()
}

function started(): Worker {
  if (worker) return worker
  worker = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module', name: 'core' })
  worker.onmessage = ({ data }: MessageEvent<Told>) => {
    if ('lost' in data) return lost()
    open.get(data.id)?.resolve(data.answer)
    open.delete(data.id)
  }
  worker.onerror = () => {
    worker?.terminate()
    worker = undefined
    lost()
  }
  return worker
}

function problem(status: number, code: string, more: Partial<Problem> = {}): Failure {
  const told = {
    type: `urn:ombret:problem:${code}`,
    title: code,
    heading: message(status === 422 ? 'problem-refused' : `problem-${code.replaceAll('_', '-')}`),
    status,
    detail: code,
    message: message(`problem-${code.replaceAll('_', '-')}-detail`),
    ...more,
  }
  return new Failure(status, told as Problem)
}

/** A refusal of the page itself, in its own words. */
export const refusal = (code: string, says: string, field?: string): Failure =>
  problem(422, code, { message: message(says) as unknown as Problem['message'], ...(field ? { field } : {}) })

function failure(answer: Exclude<Answer, { ok: unknown }>): Failure {
  if ('refused' in answer) {
    const { code, ...refused } = answer.refused
    return problem(422, code, revived(refused) as unknown as Partial<Problem>)
  }
  if ('stale' in answer) return problem(409, 'stale', { figures: answer.stale })
  if ('wrong_role' in answer) return problem(403, 'wrong_role')
  if ('unknown' in answer) return problem(404, 'not_found')
  return problem(400, 'bad_request', { detail: answer.broken })
}

/** Asks the core; what it refuses is thrown as the server would refuse it. */
export async function ask<T>(question: { ask: string } & Record<string, unknown>): Promise<T> {
  const id = ++count
  const answer = await new Promise<string>((resolve, reject) => {
    open.set(id, { resolve, reject })
    started().postMessage({ id, question: JSON.stringify(question) } satisfies Asked)
  })
  const told = JSON.parse(answer) as Answer
  if ('ok' in told) return revived(told.ok) as T
  throw failure(told)
}
