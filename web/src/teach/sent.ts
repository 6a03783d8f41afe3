import { readonly, ref } from 'vue'
import type { Source } from '../offline/serial'

// An indicator that sends what it shows: the last line that came.

const LONGEST = 400
const line = ref('')
let stop: AbortController | null = null

export const sentLine = readonly(line)
export const reads = ref(false)

/** Reads a source until it ends or `stopReading` is called. */
export async function readFrom(source: Source): Promise<void> {
  stopReading()
  const mine = new AbortController()
  stop = mine
  reads.value = true
  let rest = ''
  const heard = (text: string): void => {
    const lines = (rest + text).split(/[\r\n]+/)
    rest = (lines.pop() ?? '').slice(-LONGEST)
    const last = lines.filter((l) => l.trim()).at(-1)
    if (last) line.value = last.trim().slice(0, LONGEST)
  }
  await source.read(heard, mine.signal).catch(() => undefined)
  if (stop === mine) stopReading()
}

export function stopReading(): void {
  stop?.abort()
  stop = null
  reads.value = false
  line.value = ''
}
