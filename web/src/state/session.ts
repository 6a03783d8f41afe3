import { readonly, ref } from 'vue'
import type { Person, Role } from '../api/types'

// Who is signed in, and whether the page has to ask. Nothing typed is lost while it asks.
const person = ref<Person | null>(null)
const asking = ref(false)
const known = ref(false)

export const session = {
  person: readonly(person),
  asking: readonly(asking),
  known: readonly(known),
  /** Whether who is signed in has a role. */
  has: (role: Role): boolean => person.value?.roles.includes(role) ?? false,
}

export function askToSignIn(): void {
  asking.value = true
}

export function signedIn(who: Person | null): void {
  // What one person typed, or what waits to be sent, is not the next one's: the page begins anew.
  if (who && person.value && person.value.id !== who.id) {
    window.location.reload()
    return
  }
  person.value = who
  known.value = true
  asking.value = false
}
