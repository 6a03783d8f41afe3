import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { whoAmI } from './session'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { LinkForm, LinkMade, LinkReply, Role } from './types'

export function askLink(token: string): Promise<LinkReply> {
  return settled(api.GET('/api/links/{token}', { params: { path: { token } } }))
}

export async function answerLink(token: string, form: LinkForm): Promise<void> {
  await settled(api.POST('/api/links/{token}', { params: { path: { token } }, body: form }))
}

/** What the workshop takes where nothing else is said. */
export function useDefaults() {
  return useQuery({ queryKey: ['defaults'], queryFn: () => settled(api.GET('/api/defaults')) })
}

export function usePeople() {
  return useQuery({ queryKey: ['people'], queryFn: () => settled(api.GET('/api/people')) })
}

const again = () => queryClient.invalidateQueries({ queryKey: ['people'] })

export async function invite(name: string, roles: Role[], email = ''): Promise<LinkMade> {
  const made = await settled(api.POST('/api/people', { body: { name, roles, email } }))
  await again()
  return made
}

export async function changeMember(id: string, roles: Role[], active: boolean): Promise<void> {
  await settled(api.PUT('/api/people/{id}', { params: { path: { id } }, body: { roles, active } }))
  await again()
}

/** What is known of somebody who left is reduced to the name on records. */
export async function reduceMember(id: string): Promise<void> {
  await settled(api.POST('/api/people/{id}/reduce', { params: { path: { id } } }))
  await again()
}

export function passwordLink(id: string): Promise<LinkMade> {
  return settled(api.POST('/api/people/{id}/password', { params: { path: { id } } }))
}

/** Open sessions: one's own, or everybody's. */
export function useSessions(all: MaybeRefOrGetter<boolean>) {
  return useQuery({
    queryKey: computed(() => ['sessions', toValue(all)]),
    queryFn: () => settled(api.GET('/api/sessions', { params: { query: { all: toValue(all) } } })),
  })
}

export async function endSession(id: string): Promise<void> {
  await settled(api.DELETE('/api/sessions/{id}', { params: { path: { id } } }))
  await queryClient.invalidateQueries({ queryKey: ['sessions'] })
  await again()
}

export async function rename(name: string): Promise<void> {
  await settled(api.PUT('/api/me', { body: { name } }))
  await whoAmI()
}

export async function changePassword(old: string, password: string): Promise<void> {
  await settled(api.PUT('/api/me/password', { body: { old, password } }))
  await queryClient.invalidateQueries({ queryKey: ['sessions'] })
}
