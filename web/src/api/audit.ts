import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import type { GenuineReply } from './types'

/** The audit trail, for whoever may see it. */
export function useAudit(may: MaybeRefOrGetter<boolean>) {
  return useQuery({
    queryKey: ['audit'],
    queryFn: () => settled(api.GET('/api/audit')),
    enabled: computed(() => toValue(may)),
  })
}

/** Whether a paper is genuine; nobody has to sign in to ask. */
export function askGenuine(job: string, code: string): Promise<GenuineReply> {
  return settled(api.GET('/api/genuine/{job}/{code}', { params: { path: { job, code } } }))
}
