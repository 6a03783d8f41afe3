import type { Schema } from '../api/types'
import type { Along } from './along'
import { held } from './held'
import { vault } from './vault'

// What stands on a plate, a label or a weight, looked up among what was taken along.

/** Dashes, blanks and capitals do not matter. */
const bare = (text: string): string => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')

type Reply = Schema<'LookupReply'>

async function records(along: Along | null, fits: (text: string) => boolean): Promise<Reply['records']> {
  const out: Reply['records'] = []
  for (const { row } of along?.scales ?? []) {
    const { id, name, owner, serial } = row.sheet
    const history = await vault.get<Schema<'HistoryReply'>>(`answer/api/scales/${id}/history`)
    for (const { job, number, closed_at } of history?.records ?? []) {
      const kind = fits(number) ? 'number' : fits(serial) ? 'serial' : null
      if (kind)
        out.push({ job, number, closed_at, kind, mark: kind === 'number' ? number : serial, scale: name, owner })
    }
  }
  return out
}

async function pieces(fits: (text: string) => boolean): Promise<Reply['pieces']> {
  const kit = (await vault.get<Schema<'PieceView'>[]>('answer/api/kit?search=')) ?? []
  return kit.flatMap(({ piece }) => {
    const certificate = piece.certificates?.map((c) => c.number).find(fits) ?? null
    if (!certificate && !fits(piece.serial)) return []
    const nominal = `${piece.nominal.value} ${piece.nominal.unit}`
    return [{ piece: piece.id, serial: piece.serial, nominal, certificate, records: 0 }]
  })
}

export async function lookUpHere(asked: string, along: Along | null): Promise<Reply> {
  const wanted = bare(asked)
  const fits = (text: string): boolean => wanted.length > 1 && bare(text).includes(wanted)
  const scales = (along?.scales ?? []).map(({ row }) => row).filter((r) => fits(r.sheet.serial) || fits(r.sheet.name))
  const open = (scale: string) => held.all.value.find((job) => job.scale === scale && !job.closed_at)?.id ?? null
  return {
    scales: scales.map((row) => ({ ...row, open_job: open(row.sheet.id) })),
    records: await records(along, fits),
    pieces: await pieces(fits),
    more: false,
  }
}
