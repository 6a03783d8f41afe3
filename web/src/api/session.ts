import { forgetTyped } from '../state/own'
import { signedIn } from '../state/session'
import { Failure, api, settled } from './client'
import { queryClient } from './queries'

export async function whoAmI(): Promise<void> {
  try {
    signedIn(await settled(api.GET('/api/session')))
  } catch (error) {
    if (error instanceof Failure && error.status === 401) signedIn(null)
    else throw error
  }
}

export async function signIn(sign_in: string, password: string, code = ''): Promise<void> {
  const { vault } = await import('../offline/vault')
  try {
    const person = await settled(api.POST('/api/session', { body: { sign_in, password, code: code || null } }))
    // Before anybody asks for anything: what is on this device is open to its owner.
    await vault.unlock(password, person.id)
    signedIn(person)
  } catch (error) {
    if (!(error instanceof Failure) || error.status !== 0) throw error
    // Without the server the password opens what is on this device.
    const { signInHere } = await import('../offline/stand_in')
    const person = await signInHere(password)
    if (!person) throw error
    signedIn(person)
  }
  await queryClient.invalidateQueries()
}

export async function signOut(): Promise<void> {
  const { vault } = await import('../offline/vault')
  try {
    await settled(api.DELETE('/api/session'))
  } catch (error) {
    // Without the server there is nobody to tell; what is on this device is locked all the same.
    if (!(error instanceof Failure) || error.status !== 0) throw error
  }
  vault.shut()
  forgetTyped()
  queryClient.clear()
  signedIn(null)
}
