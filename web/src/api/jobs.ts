import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, sent, settled } from './client'
import { queryClient } from './queries'
import type { Draft, EntryReply, OperatorReply, JobReply } from './types'

export const MEDIA_TYPE = 'application/vnd.ombret.job+json'

export function useOpenJobs() {
  return useQuery({ queryKey: ['jobs', 'open'], queryFn: () => settled(api.GET('/api/jobs')) })
}

export function useJobQuery(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['job', toValue(id)]),
    queryFn: () => settled(api.GET('/api/jobs/{id}', { params: { path: { id: toValue(id) } } })),
  })
}

export async function beginJob(id: string, scale_id: string): Promise<JobReply> {
  const reply = await settled(api.POST('/api/jobs', { body: { id, scale_id } }))
  queryClient.setQueryData(['job', id], reply)
  await queryClient.invalidateQueries({ queryKey: ['jobs'] })
  await queryClient.invalidateQueries({ queryKey: ['scales'] })
  return reply
}

export interface Sending {
  id: string
  after: number
  draft: Draft
  /** Sent once more behind an entry of somebody else. */
  again?: boolean
}

export function postEntry(job: string, sending: Sending, try_only = false, password?: string): Promise<EntryReply> {
  const { id, after, draft } = sending
  return settled(
    api.POST('/api/jobs/{id}/entries', {
      params: { path: { id: job } },
      body: { id, after, draft, try_only, password },
    }),
  )
}

/** Takes a job file in; its own media type keeps it apart from ordinary JSON. */
export async function importFile(file: File): Promise<{ job: string }> {
  const body = await sent('/api/jobs/import', { 'content-type': MEDIA_TYPE }, file)
  await queryClient.invalidateQueries()
  return body as { job: string }
}

export function operateScale(scale: string, command: string): Promise<OperatorReply> {
  return settled(api.POST('/api/scales/{id}/operator', { params: { path: { id: scale } }, body: { command } }))
}
