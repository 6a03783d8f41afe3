import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { CompareReply, DueOrder, FiguresReply, HistoryReply, LookupReply } from './types'

export function useHistory(scale: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['history', toValue(scale)]),
    queryFn: (): Promise<HistoryReply> =>
      settled(api.GET('/api/scales/{id}/history', { params: { path: { id: toValue(scale) } } })),
  })
}

export function useDue(
  days: MaybeRefOrGetter<number>,
  by: MaybeRefOrGetter<DueOrder>,
  search: MaybeRefOrGetter<string>,
) {
  return useInfiniteQuery({
    queryKey: computed(() => ['due', toValue(days), toValue(by), toValue(search)]),
    queryFn: ({ pageParam }) =>
      settled(
        api.GET('/api/due', {
          params: { query: { days: toValue(days), by: toValue(by), search: toValue(search), after: pageParam } },
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
  })
}

export function useCalendar() {
  return useQuery({ queryKey: ['calendar'], queryFn: () => settled(api.GET('/api/calendar')) })
}

export async function renewCalendar(): Promise<void> {
  queryClient.setQueryData(['calendar'], await settled(api.POST('/api/calendar')))
}

/** Records that rest on a piece of weight, page by page. */
export function useResting(piece: string, asked: MaybeRefOrGetter<boolean>) {
  return useInfiniteQuery({
    queryKey: ['resting', piece],
    queryFn: ({ pageParam }) =>
      settled(api.GET('/api/kit/{id}/records', { params: { path: { id: piece }, query: { after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    enabled: computed(() => toValue(asked)),
  })
}

export function useFigures(from: MaybeRefOrGetter<string>, to: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['figures', toValue(from), toValue(to)]),
    queryFn: (): Promise<FiguresReply> =>
      settled(api.GET('/api/statistics', { params: { query: { from: toValue(from), to: toValue(to) } } })),
    placeholderData: keepPreviousData,
  })
}

export function useLookup(q: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['lookup', toValue(q)]),
    queryFn: (): Promise<LookupReply> => settled(api.GET('/api/lookup', { params: { query: { q: toValue(q) } } })),
    enabled: computed(() => toValue(q).trim().length > 1),
    placeholderData: keepPreviousData,
  })
}

/** A record, or a version of it: its job, and the version behind a dot. */
export function useCompare(one: MaybeRefOrGetter<string>, other: MaybeRefOrGetter<string>) {
  const side = (text: string) => {
    const [job, version] = text.split('.')
    return { job: job ?? '', version: version ? Number(version) : undefined }
  }
  return useQuery({
    queryKey: computed(() => ['compare', toValue(one), toValue(other)]),
    queryFn: (): Promise<CompareReply> => {
      const [a, b] = [side(toValue(one)), side(toValue(other))]
      return settled(
        api.GET('/api/compare', {
          params: { query: { one: a.job, one_version: a.version, other: b.job, other_version: b.version } },
        }),
      )
    },
    enabled: computed(() => Boolean(toValue(one) && toValue(other))),
  })
}
