import { readonly, ref } from 'vue'
import { Failure } from '../api/client'
import type { Problem } from '../api/types'
import { revived } from '../words'

// Whether the server answers, as far as the last request tells.
const answers = ref(true)
const onBack = new Set<() => void>()
const LONGEST_MS = 30_000

export const connection = {
  answers: readonly(answers),
  heard(): void {
    if (answers.value) return
    answers.value = true
    for (const told of onBack) told()
  },
  missed(): void {
    answers.value = false
  },
  /** Tells when the server answers again. */
  whenBack: (told: () => void): void => void onBack.add(told),
}

/** Asks the server itself, whatever stands in for it. */
export async function fromServer(path: string, init: RequestInit = {}): Promise<Response> {
  const response = await fetch(path, { signal: AbortSignal.timeout(LONGEST_MS), ...init }).catch(() => {
    connection.missed()
    throw new Failure(0, null)
  })
  connection.heard()
  if (response.ok) return response
  const told = (await response.json().catch(() => null)) as Problem | null
  throw new Failure(response.status, revived(told))
}

/** The same as JSON, as it came. */
export const jsonFromServer = async <T>(path: string): Promise<T> => (await fromServer(path)).json() as Promise<T>
