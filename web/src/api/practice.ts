import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { Account, LessonRow, PracticeView } from './types'

export function useLessons() {
  return useQuery({ queryKey: ['lessons'], queryFn: (): Promise<LessonRow[]> => settled(api.GET('/api/lessons')) })
}

export function usePractice(job: MaybeRefOrGetter<string>, wanted: MaybeRefOrGetter<boolean>) {
  return useQuery({
    queryKey: computed(() => ['practice', toValue(job)]),
    queryFn: (): Promise<PracticeView> =>
      settled(api.GET('/api/practice/{job}', { params: { path: { job: toValue(job) } } })),
    enabled: computed(() => toValue(wanted)),
  })
}

export function useAccount(job: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['account', toValue(job)]),
    queryFn: (): Promise<Account> =>
      settled(api.GET('/api/practice/{job}/account', { params: { path: { job: toValue(job) } } })),
    retry: false,
  })
}

export async function beginLesson(id: string, job: string): Promise<void> {
  await settled(api.POST('/api/lessons/{id}/runs', { params: { path: { id } }, body: { job } }))
}

export async function keepLesson(text: string): Promise<LessonRow> {
  const row = await settled(api.PUT('/api/lessons', { body: { text } }))
  await queryClient.invalidateQueries({ queryKey: ['lessons'] })
  return row
}

/** Asks for a hint, switches the practice scale on again, or gives up. */
export async function practiceAct(job: string, act: 'hint' | 'again' | 'reveal'): Promise<void> {
  const at = { params: { path: { job } } }
  const asked = {
    hint: () => api.POST('/api/practice/{job}/hint', at),
    again: () => api.POST('/api/practice/{job}/again', at),
    reveal: () => api.POST('/api/practice/{job}/reveal', at),
  }
  queryClient.setQueryData(['practice', job], await settled(asked[act]()))
}

/** Throws practice away: every run of a lesson of everybody; how many. */
export async function throwPracticeAway(): Promise<number> {
  const { runs } = await settled(api.DELETE('/api/practice'))
  await queryClient.invalidateQueries()
  return runs
}
