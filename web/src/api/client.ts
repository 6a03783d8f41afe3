import { type Text, revived, say } from '../words'
import createClient from 'openapi-fetch'
import type { paths } from './schema'
import type { Problem } from './types'

/** Who answers: the server, or what stands in for it while jobs are away. */
let answers: (request: Request) => Promise<Response> = (request) => fetch(request)

export function standIn(by: (request: Request) => Promise<Response>): void {
  answers = by
}

const reach = (request: Request): Promise<Response> => answers(request)

export const api = createClient<paths>({ baseUrl: '', fetch: reach })

/** Why a request came to nothing: a problem document, or no answer at all. */
export class Failure extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | null,
  ) {
    super(problem ? String(problem.message) : say('app-no-answer'))
  }

  get code(): string {
    return this.problem?.type.split(':').pop() ?? 'no_answer'
  }

  /** What is wrong at a field, with what to do; empty where nothing is. All errors of a form come at once. */
  at(field: string): string {
    const told = [
      { field: this.problem?.field, message: this.message as string | Text, what_to_do: this.problem?.what_to_do },
      ...(this.problem?.also ?? []),
    ].find((t) => t.field === field)
    return told ? [told.message, told.what_to_do].filter(Boolean).join('. ') : ''
  }

  /** Nothing is wrong with what was sent: it may be sent again as it is. */
  get passes(): boolean {
    return this.status === 0 || this.status === 401 || this.status === 502 || this.status === 503
  }
}

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Turns an answer into its data, or throws a Failure. */
export async function settled<T>(answer: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await answer.catch(() => {
    throw new Failure(0, null)
  })
  if (response.ok) return revived(data as T)
  const told = error && typeof error === 'object' && 'type' in error ? revived(error as Problem) : null
  throw new Failure(response.status, told)
}

/** Sends bytes as they are; the answer's JSON, if it has any. */
export async function sent(
  path: string,
  headers: Record<string, string>,
  body: BodyInit,
  method: 'POST' | 'PUT' = 'POST',
): Promise<unknown> {
  const request = new Request(new URL(path, window.location.href), { method, headers, body })
  const response = await reach(request).catch(() => {
    throw new Failure(0, null)
  })
  const told: unknown = revived(await response.json().catch(() => null))
  if (!response.ok) throw new Failure(response.status, told as Problem | null)
  return told
}
