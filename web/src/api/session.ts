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
  signedIn(await settled(api.POST('/api/session', { body: { sign_in, password, code: code || null } })))
  await queryClient.invalidateQueries()
}

export async function signOut(): Promise<void> {
  await settled(api.DELETE('/api/session'))
  forgetTyped()
  queryClient.clear()
  signedIn(null)
}
