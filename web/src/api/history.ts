import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { DueRow, HistoryReply, Resting } from './types'

export function useHistory(scale: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['history', toValue(scale)]),
    queryFn: (): Promise<HistoryReply> => settled(api.GET('/api/scales/{id}/history', { params: { path: { id: toValue(scale) } } })),
  })
}

export function useDue(days: MaybeRefOrGetter<number>) {
  return useQuery({
    queryKey: computed(() => ['due', toValue(days)]),
    queryFn: (): Promise<DueRow[]> => settled(api.GET('/api/due', { params: { query: { days: toValue(days) } } })),
  })
}

export function useCalendar() {
  return useQuery({ queryKey: ['calendar'], queryFn: () => settled(api.GET('/api/calendar')) })
}

export async function renewCalendar(): Promise<void> {
  queryClient.setQueryData(['calendar'], await settled(api.POST('/api/calendar')))
}

export function restingOn(piece: string): Promise<Resting[]> {
  return settled(api.GET('/api/kit/{id}/records', { params: { path: { id: piece } } }))
}
