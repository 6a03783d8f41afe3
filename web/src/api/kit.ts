import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, sent, settled } from './client'
import { queryClient } from './queries'
import type {
  KitFile,
  KitFileRead,
  OwnClass,
  PackingList,
  Piece,
  PlanChoices,
  ReadStage,
  SpanWeightRule,
} from './types'

export function useKit(search: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['kit', toValue(search)]),
    queryFn: () => settled(api.GET('/api/kit', { params: { query: { search: toValue(search) } } })),
    placeholderData: keepPreviousData,
  })
}

const stale = () =>
  queryClient.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] === 'kit' || queryKey[0] === 'plan' })

export async function keepPiece(piece: Piece, version: number): Promise<void> {
  await settled(api.PUT('/api/kit', { body: { piece, version } }))
  await stale()
}

export async function changePieces(body: {
  ids: string[]
  place?: string
  holder?: string
  damaged?: boolean
}): Promise<void> {
  await settled(api.POST('/api/kit/bulk', { body }))
  await stale()
}

export async function takeKitFile(file: KitFile, take: boolean): Promise<KitFileRead> {
  const read = await settled(api.POST('/api/kit/file', { body: { file, take } }))
  if (take) await stale()
  return read
}

export async function weighObject(body: {
  id: string
  serial: string
  record: string
  shown: string
  place: string
}): Promise<Piece> {
  const piece = await settled(api.POST('/api/kit/objects', { body }))
  await stale()
  return piece
}

export function useOwnClasses() {
  return useQuery({ queryKey: ['own-classes'], queryFn: () => settled(api.GET('/api/kit/classes')) })
}

export async function keepOwnClasses(classes: OwnClass[]): Promise<void> {
  await settled(api.PUT('/api/kit/classes', { body: classes }))
  await queryClient.invalidateQueries({ queryKey: ['own-classes'] })
}

/** A certificate's file goes up as it is. */
export async function attachCertificate(piece: string, number: string, file: File): Promise<void> {
  await sent(
    `/api/kit/${piece}/certificates/${encodeURIComponent(number)}`,
    { 'content-type': 'application/octet-stream', 'x-file-name': encodeURIComponent(file.name) },
    file,
    'PUT',
  )
  await stale()
}

export function usePlan(
  job: MaybeRefOrGetter<string>,
  what: MaybeRefOrGetter<{ choices: PlanChoices; span: string; entries: number; stage?: ReadStage }>,
  enabled: MaybeRefOrGetter<boolean> = true,
) {
  return useQuery({
    queryKey: computed(() => ['plan', toValue(job), toValue(what)]),
    queryFn: () => {
      const { choices, span, stage } = toValue(what)
      return settled(
        api.POST('/api/jobs/{id}/plan', { params: { path: { id: toValue(job) } }, body: { choices, span, stage } }),
      )
    },
    enabled: computed(() => toValue(enabled)),
    placeholderData: keepPreviousData,
  })
}

export function packDay(scales: string[], in_days: number): Promise<PackingList> {
  return settled(api.POST('/api/route', { body: { scales, in_days } }))
}

export function useSpanWeightRule() {
  return useQuery({ queryKey: ['span-weight-rule'], queryFn: () => settled(api.GET('/api/span-weight-rule')) })
}

export async function setSpanWeightRule(span_weight_rule: SpanWeightRule): Promise<void> {
  await settled(api.PUT('/api/span-weight-rule', { body: { span_weight_rule } }))
  await queryClient.invalidateQueries({ queryKey: ['span-weight-rule'] })
  await stale()
}
