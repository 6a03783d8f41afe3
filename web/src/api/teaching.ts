import { useQuery } from '@tanstack/vue-query'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { ProfileText, Schema } from './types'

export type Session = Schema<'TaughtSession'>
export type Seen = Schema<'TaughtSeen'>
export type Screen = Schema<'TaughtScreen'>
export type Answer = Schema<'TaughtAnswer'>
export type Question = Schema<'TeachingQuestion'>
export type TeachingView = Schema<'TeachingView'>
/** A question of one sort. */
export type Asked<Ask extends Question['ask']> = Extract<Question, { ask: Ask }>

export function useTeachings() {
  return useQuery({ queryKey: ['teachings'], queryFn: () => settled(api.GET('/api/teaching')) })
}

export const readTeaching = (id: string): Promise<TeachingView> =>
  settled(api.GET('/api/teaching/{id}', { params: { path: { id } } })) as Promise<TeachingView>

export const keepTeaching = (id: string, version: number, session: Session): Promise<TeachingView> =>
  settled(
    api.PUT('/api/teaching/{id}', { params: { path: { id } }, body: { version, session } }),
  ) as Promise<TeachingView>

export async function profileOfTeaching(id: string): Promise<ProfileText> {
  const kept = await settled(api.POST('/api/teaching/{id}/profile', { params: { path: { id } } }))
  queryClient.setQueryData(['profile', kept.id], kept)
  await queryClient.invalidateQueries({ queryKey: ['profiles'] })
  return kept
}
