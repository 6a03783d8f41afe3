import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, sent, settled } from './client'
import { queryClient } from './queries'
import type { FileRow, Instrument } from './types'

/** What reads the air around a scale. */
export function useInstruments() {
  return useQuery({ queryKey: ['instruments'], queryFn: () => settled(api.GET('/api/instruments')) })
}

const again = () => queryClient.invalidateQueries({ queryKey: ['instruments'] })

export async function keepInstrument(instrument: Instrument, version: number): Promise<void> {
  await settled(api.PUT('/api/instruments', { body: { instrument, version } }))
  await again()
}

export async function removeInstrument(id: string): Promise<void> {
  await settled(api.DELETE('/api/instruments/{id}', { params: { path: { id } } }))
  await again()
}

export type FileOf = 'scale' | 'job' | 'piece'

/** Photos and files of a scale, a job or a piece. */
export function useFiles(of: FileOf, id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['files', of, toValue(id)]),
    queryFn: () => settled(api.GET('/api/files', { params: { query: { of, id: toValue(id) } } })),
  })
}

/** Sends a file up. */
export async function putFile(
  file: string,
  of: FileOf,
  id: string,
  name: string,
  caption: string,
  bytes: Blob,
): Promise<FileRow> {
  const query = new URLSearchParams({ of, id, name, caption })
  const told = await sent(`/api/files/${file}?${query}`, { 'content-type': 'application/octet-stream' }, bytes, 'PUT')
  await queryClient.invalidateQueries({ queryKey: ['files', of, id] })
  return told as FileRow
}

export async function removeFile(file: string, of: FileOf, id: string): Promise<void> {
  await settled(api.DELETE('/api/files/{file}', { params: { path: { file } } }))
  await queryClient.invalidateQueries({ queryKey: ['files', of, id] })
}
