import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue, watch } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { Customer, CustomerRow } from './types'

export function useCustomers(search: MaybeRefOrGetter<string>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['customers', toValue(search)]),
    queryFn: ({ pageParam }) =>
      settled(api.GET('/api/customers', { params: { query: { search: toValue(search), after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    placeholderData: keepPreviousData,
  })
}

/** Every customer, to choose from: page after page. */
export function useAllCustomers() {
  const list = useCustomers('')
  watch(
    [list.hasNextPage, list.isFetchingNextPage],
    ([more, fetching]) => {
      if (more && !fetching) void list.fetchNextPage()
    },
    { immediate: true },
  )
  return computed(() => list.data.value?.pages.flatMap((p) => p.customers) ?? [])
}

export function useCustomer(id: MaybeRefOrGetter<string | null>) {
  return useQuery({
    queryKey: computed(() => ['customer', toValue(id)]),
    queryFn: () => settled(api.GET('/api/customers/{id}', { params: { path: { id: toValue(id) ?? '' } } })),
    enabled: computed(() => Boolean(toValue(id))),
  })
}

// Their name stands on scales and in every list of them.
const again = () =>
  queryClient.invalidateQueries({
    predicate: ({ queryKey }) =>
      ['customers', 'customer', 'scales', 'scale', 'due', 'records'].includes(String(queryKey[0])),
  })

export async function addCustomer(customer: Customer): Promise<CustomerRow> {
  const added = await settled(api.POST('/api/customers', { body: { ...customer, version: 0 } }))
  await again()
  return added
}

export async function changeCustomer(customer: Customer, version: number): Promise<CustomerRow> {
  const changed = await settled(
    api.PUT('/api/customers/{id}', { params: { path: { id: customer.id } }, body: { ...customer, version } }),
  )
  await again()
  return changed
}

export async function mergeCustomer(id: string, into: string): Promise<void> {
  await settled(api.POST('/api/customers/{id}/merge', { params: { path: { id } }, body: { into } }))
  await again()
}

export async function removeCustomer(id: string): Promise<void> {
  await settled(api.DELETE('/api/customers/{id}', { params: { path: { id } } }))
  await again()
}

/** Links by which a customer sees their own scales and papers. */
export function useOwnerLinks(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['owner-links', toValue(id)]),
    queryFn: () => settled(api.GET('/api/customers/{id}/links', { params: { path: { id: toValue(id) } } })),
  })
}

export async function makeOwnerLink(id: string, days: number): Promise<string> {
  const { path } = await settled(api.POST('/api/customers/{id}/links', { params: { path: { id } }, body: { days } }))
  await queryClient.invalidateQueries({ queryKey: ['owner-links', id] })
  return path
}

export async function endOwnerLink(link: string, customer: string): Promise<void> {
  await settled(api.DELETE('/api/links-of-owners/{id}', { params: { path: { id: link } } }))
  await queryClient.invalidateQueries({ queryKey: ['owner-links', customer] })
}
