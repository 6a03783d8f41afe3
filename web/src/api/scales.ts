import { keepPreviousData, useInfiniteQuery, useMutation, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { ScaleForm } from './types'

export function useScales(search: MaybeRefOrGetter<string>, customer: MaybeRefOrGetter<string | null> = null) {
  return useInfiniteQuery({
    queryKey: computed(() => ['scales', toValue(search), toValue(customer)]),
    queryFn: ({ pageParam }) =>
      settled(
        api.GET('/api/scales', {
          params: { query: { search: toValue(search), customer: toValue(customer) ?? undefined, after: pageParam } },
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
  })
}

export function useScale(id: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: computed(() => ['scale', toValue(id)]),
    queryFn: () => settled(api.GET('/api/scales/{id}', { params: { path: { id: toValue(id) ?? '' } } })),
    enabled: computed(() => Boolean(toValue(id))),
  })
}

export function useSaveScale() {
  return useMutation({
    mutationFn: (form: ScaleForm) =>
      form.version
        ? settled(api.PUT('/api/scales/{id}', { params: { path: { id: form.id } }, body: form }))
        : settled(api.POST('/api/scales', { body: form })),
    onSuccess: async (detail) => {
      queryClient.setQueryData(['scale', detail.sheet.id], detail)
      await queryClient.invalidateQueries({ queryKey: ['scales'] })
    },
  })
}

export function useVocabulary() {
  return useQuery({
    queryKey: ['vocabulary'],
    queryFn: () => settled(api.GET('/api/vocabulary')),
    staleTime: Infinity,
  })
}

/** What a wiring card comes to, as it is written. */
export function useWiring(lines: MaybeRefOrGetter<string[]>) {
  return useQuery({
    queryKey: computed(() => ['wiring', toValue(lines)]),
    queryFn: () => settled(api.POST('/api/wiring', { body: { lines: toValue(lines) } })),
    placeholderData: keepPreviousData,
  })
}
