import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { v7 as uuidv7 } from 'uuid'
import { api, sent, settled } from './client'
import { postEntry } from './jobs'
import { queryClient } from './queries'
import type { Dcc, Draft, JobReply, PaperRules } from './types'

/** What paper a record may become; asked anew when the record moves on. */
export function usePaperKind(job: MaybeRefOrGetter<string>, entries: MaybeRefOrGetter<number>) {
  return useQuery({
    queryKey: computed(() => ['paper-kind', toValue(job), toValue(entries)]),
    queryFn: () => settled(api.GET('/api/jobs/{id}/paper', { params: { path: { id: toValue(job) } } })),
  })
}

export function useVersions(job: MaybeRefOrGetter<string>, entries: MaybeRefOrGetter<number>) {
  return useQuery({
    queryKey: computed(() => ['versions', toValue(job), toValue(entries)]),
    queryFn: () => settled(api.GET('/api/jobs/{id}/versions', { params: { path: { id: toValue(job) } } })),
  })
}

export function useWaiting() {
  return useQuery({ queryKey: ['review'], queryFn: () => settled(api.GET('/api/review')) })
}

export function usePaper() {
  return useQuery({ queryKey: ['paper'], queryFn: () => settled(api.GET('/api/letterhead')) })
}

export async function keepPaper(rules: PaperRules): Promise<void> {
  await settled(api.PUT('/api/letterhead', { body: rules }))
  await queryClient.invalidateQueries({ queryKey: ['paper'] })
  await queryClient.invalidateQueries({ queryKey: ['paper-kind'] })
  await queryClient.invalidateQueries({ queryKey: ['audit'] })
}

/** An entry after the signature: approval, sending back, a new version. */
export async function sayOfRecord(reply: JobReply, draft: Draft): Promise<void> {
  const after = reply.assessment.entries.at(-1)?.seq ?? 0
  const { job, assessment } = await postEntry(reply.job.id, { id: uuidv7(), after, draft })
  queryClient.setQueryData(['job', reply.job.id], { job, assessment })
  await queryClient.invalidateQueries({ queryKey: ['review'] })
  await queryClient.invalidateQueries({ queryKey: ['jobs'] })
}

/** Reads a digital calibration certificate; nothing of it is stored. */
export async function readDcc(file: File): Promise<Dcc> {
  return (await sent('/api/dcc', { 'content-type': 'application/xml' }, file)) as Dcc
}
