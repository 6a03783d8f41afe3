import { session } from './session'

// What the browser keeps for a person: others who sign in here neither see it nor send it.
type Kind = 'typed' | 'waiting' | 'teaching'

const place = (kind: Kind, person: string, key: string): string => `ombret.${kind}.${person}.${key}`
const owner = (): string => session.person.value?.id ?? 'nobody'

export function keptFor(kind: Kind, key: string): string | null {
  try {
    return localStorage.getItem(place(kind, owner(), key))
  } catch {
    return null
  }
}

export function keepFor(kind: Kind, key: string, text: string | null): void {
  try {
    if (text === null) localStorage.removeItem(place(kind, owner(), key))
    else localStorage.setItem(place(kind, owner(), key), text)
  } catch {
    // Without storage it lives in the page only.
  }
}

/** At signing out: what was typed goes, what still waits to be stored stays. */
export function forgetTyped(): void {
  try {
    const begin = place('typed', owner(), '')
    for (const key of Object.keys(localStorage)) if (key.startsWith(begin)) localStorage.removeItem(key)
  } catch {
    // There is nothing to forget.
  }
}
