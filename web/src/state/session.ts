import { readonly, ref } from 'vue'
import type { Person } from '../api/types'

// Who is signed in, and whether the page has to ask. Nothing typed is lost while it asks.
const person = ref<Person | null>(null)
const asking = ref(false)
const known = ref(false)

export const session = { person: readonly(person), asking: readonly(asking), known: readonly(known) }

export function askToSignIn(): void {
  asking.value = true
}

export function signedIn(who: Person | null): void {
  person.value = who
  known.value = true
  asking.value = false
}
