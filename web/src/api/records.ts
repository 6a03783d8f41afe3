import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { RecordsAsked } from './types'

/** All records of the workshop, as they are filtered. */
export function useRecords(asked: MaybeRefOrGetter<RecordsAsked>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['records', toValue(asked)]),
    queryFn: ({ pageParam }) =>
      settled(api.GET('/api/records', { params: { query: { ...toValue(asked), after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    placeholderData: keepPreviousData,
  })
}

/** Writes the papers of what is filtered into one file, in the background. */
export async function beginPapers(asked: RecordsAsked): Promise<void> {
  await settled(api.POST('/api/records/papers', { params: { query: asked } }))
  await queryClient.invalidateQueries({ queryKey: ['archive'] })
}
