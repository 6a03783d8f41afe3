import { useQuery } from '@tanstack/vue-query'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { FactorBegun } from './types'

/** How one's own second factor stands. */
export function useFactor() {
  return useQuery({ queryKey: ['factor'], queryFn: () => settled(api.GET('/api/me/second-factor')) })
}

const again = () => queryClient.invalidateQueries({ queryKey: ['factor'] })

export function beginFactor(password: string): Promise<FactorBegun> {
  return settled(api.POST('/api/me/second-factor', { body: { password } }))
}

export async function confirmFactor(code: string): Promise<string[]> {
  const { codes } = await settled(api.PUT('/api/me/second-factor', { body: { code } }))
  await again()
  return codes
}

export async function endFactor(password: string): Promise<void> {
  await settled(api.DELETE('/api/me/second-factor', { body: { password } }))
  await again()
}

/** Takes the second factor of somebody away who lost the device. */
export async function endFactorOf(id: string): Promise<void> {
  await settled(api.DELETE('/api/people/{id}/second-factor', { params: { path: { id } } }))
  await queryClient.invalidateQueries({ queryKey: ['people'] })
}

/** Tokens for programs of one's own. */
export function useTokens() {
  return useQuery({ queryKey: ['tokens'], queryFn: () => settled(api.GET('/api/me/tokens')) })
}

export async function makeToken(body: {
  name: string
  works: boolean
  days: number
  password: string
}): Promise<string> {
  const { token } = await settled(api.POST('/api/me/tokens', { body }))
  await queryClient.invalidateQueries({ queryKey: ['tokens'] })
  return token
}

export async function endToken(id: string): Promise<void> {
  await settled(api.DELETE('/api/me/tokens/{id}', { params: { path: { id } } }))
  await queryClient.invalidateQueries({ queryKey: ['tokens'] })
}
