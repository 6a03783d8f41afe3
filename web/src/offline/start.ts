import { watch } from 'vue'
import { standIn } from '../api/client'
import { askToSignIn, session } from '../state/session'
import { carried } from './along'
import { connection } from './connection'
import { held } from './held'
import { home } from './home'
import { reach } from './stand_in'
import { vault } from './vault'

const LOOKS_MS = 5_000

/** What is away is looked for, answers, and goes home as soon as there is a way. */
export async function start(): Promise<void> {
  if (!vault.possible) return
  await vault.look()
  standIn(reach)
  connection.whenBack(() => void home.bringAll())
  window.addEventListener('online', () => void home.bringAll())
  watch(vault.lock, async (lock) => {
    if (!lock) {
      held.clear()
      carried.clear()
      return
    }
    await Promise.all([held.look(), carried.look()])
  })
  // Whether the server is back shows even where nobody asks it for anything.
  setInterval(() => {
    if (connection.answers.value || document.visibilityState !== 'visible') return
    void fetch('/api/health').then(
      (response) => response.ok && connection.heard(),
      () => undefined,
    )
  }, LOOKS_MS)
  // Signed in, the server gone, and what is on this device still locked: the password is asked for.
  watch([connection.answers, session.person, vault.lock], ([answers, person, lock]) => {
    if (!answers && person && !lock && vault.locks.value.some((l) => l.person.id === person.id)) askToSignIn()
  })
  watch([session.person, held.unsent], ([person, unsent], [before]) => {
    if (person && unsent > 0 && person.id !== before?.id) void home.bringAll()
  })
}
