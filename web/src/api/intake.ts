import { useQuery } from '@tanstack/vue-query'
import { api, sent, settled } from './client'
import { queryClient } from './queries'
import type { IntakeKind, IntakeReply, Unit } from './types'

export interface IntakeAsked {
  kind: IntakeKind
  unit: Unit | ''
  mapping: Record<string, string>
}

/** Looks at a table; nothing is stored. */
export function lookAt(file: File, asked: IntakeAsked): Promise<IntakeReply> {
  return send(file, asked, false)
}

/** Takes a table in, whole or not at all. */
export async function takeTable(file: File, asked: IntakeAsked): Promise<IntakeReply> {
  const reply = await send(file, asked, true)
  await queryClient.invalidateQueries()
  return reply
}

async function send(file: File, asked: IntakeAsked, take: boolean): Promise<IntakeReply> {
  const query = new URLSearchParams({
    kind: asked.kind,
    name: file.name,
    mapping: JSON.stringify(asked.mapping),
    take: String(take),
  })
  if (asked.unit) query.set('unit', asked.unit)
  const told = await sent(`/api/intake?${query}`, { 'content-type': 'application/octet-stream' }, file)
  return told as IntakeReply
}

/** Tables that came in. */
export function useIntakes() {
  return useQuery({ queryKey: ['intake'], queryFn: () => settled(api.GET('/api/intake')) })
}

export async function undoIntake(id: string): Promise<void> {
  await settled(api.DELETE('/api/intake/{id}', { params: { path: { id } } }))
  await queryClient.invalidateQueries()
}
