import { readonly, ref, shallowRef } from 'vue'
import type { LinePattern, LiveView } from '../api/types'
import { ask } from './core'
import { nowS } from './local'
import { setPort } from './port'

// An indicator on this device's own cable. The browser opens the port, the core reads its lines.

interface Port {
  open(how: { baudRate: number; dataBits: number; stopBits: number; parity: string }): Promise<void>
  close(): Promise<void>
  readable: ReadableStream<Uint8Array> | null
}

interface Serial {
  requestPort(): Promise<Port>
  getPorts(): Promise<Port[]>
}

export interface LineSpeed {
  baud: number
  data: 7 | 8
  parity: 'none' | 'even' | 'odd'
  stop: 1 | 2
}

// The frames that indicators are set to: data bits, parity, stop bits.
export const FRAMES: Record<string, Omit<LineSpeed, 'baud'>> = {
  '8N1': { data: 8, parity: 'none', stop: 1 },
  '8N2': { data: 8, parity: 'none', stop: 2 },
  '8E1': { data: 8, parity: 'even', stop: 1 },
  '8O1': { data: 8, parity: 'odd', stop: 1 },
  '7E1': { data: 7, parity: 'even', stop: 1 },
  '7O1': { data: 7, parity: 'odd', stop: 1 },
  '7E2': { data: 7, parity: 'even', stop: 2 },
  '7O2': { data: 7, parity: 'odd', stop: 2 },
}
export const BAUDS = [1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200]
export const speedOf = (baud: number, frame: string): LineSpeed =>
  ({ baud, ...(FRAMES[frame] ?? FRAMES['8N1']) }) as LineSpeed

const serial = (): Serial | undefined => (navigator as unknown as { serial?: Serial }).serial

/** Whether this browser opens ports. */
export const canSerial = (): boolean => Boolean(serial())

const VIEW_MS = 80
const AGAIN_MS = 1_000

type Text = (text: string) => void

/** Where lines come from; ends when the line does. */
export interface Source {
  name: string
  read(heard: Text, stop: AbortSignal): Promise<void>
}

/** A port that is chosen now; whoever chooses it sees the browser's own list. */
export async function choosePort(speed: LineSpeed): Promise<Source | null> {
  const ports = serial()
  const chosen = await ports?.requestPort().catch(() => null)
  if (!ports || !chosen) return null
  return { name: 'serial', read: (heard, stop) => readPort(chosen, speed, heard, stop) }
}

async function readPort(port: Port, speed: LineSpeed, heard: Text, stop: AbortSignal): Promise<void> {
  const { baud: baudRate, data: dataBits, stop: stopBits, parity } = speed
  if (!port.readable) await port.open({ baudRate, dataBits, stopBits, parity })
  const reader = port.readable?.getReader()
  if (!reader) throw new Error('no line')
  const end = (): void => void reader.cancel()
  stop.addEventListener('abort', end)
  const decoder = new TextDecoder()
  try {
    for (;;) {
      const { value, done } = await reader.read()
      if (done) return
      heard(decoder.decode(value, { stream: true }))
    }
  } finally {
    stop.removeEventListener('abort', end)
    reader.releaseLock()
    await port.close().catch(() => undefined)
  }
}

interface Reading {
  job: string
  scale: string
  name: string
  stop: AbortController
}

const reading = shallowRef<Reading | null>(null)
const view = ref<LiveView | null>(null)
let timer: ReturnType<typeof setInterval> | undefined

/** One look at a time: while the core is busy none piles up. */
let looking = false

async function look(job: string, port: string): Promise<void> {
  if (looking) return
  looking = true
  const now = await ask<LiveView>({ ask: 'port_view', port, job, now_s: nowS() }).catch(() => null)
  looking = false
  if (reading.value?.job === job) view.value = now
}

/** Reads until nobody wants it any more; a line that was cut is opened again. */
async function keepReading(source: Source, port: string, stop: AbortSignal): Promise<void> {
  while (!stop.aborted) {
    const heard: Text = (text) => void ask({ ask: 'port_heard', port, text, at_s: nowS() }).catch(() => undefined)
    const why = await source.read(heard, stop).then(
      () => 'closed',
      () => 'broken',
    )
    if (stop.aborted) return
    await ask({ ask: 'port_lost', port, why }).catch(() => undefined)
    await new Promise((resolve) => setTimeout(resolve, AGAIN_MS))
  }
}

export const devicePort = {
  reading: readonly(reading),
  view: readonly(view),

  /** Reads a source for a job at a scale, whose lines have this pattern. */
  async start(source: Source, job: string, scale: string, pattern: LinePattern | null): Promise<void> {
    this.stop()
    const port = `${source.name}/${scale}`
    await ask({ ask: 'port_open', port, pattern })
    const stop = new AbortController()
    reading.value = { job, scale, name: source.name, stop }
    setPort(scale, port)
    timer = setInterval(() => void look(job, port), VIEW_MS)
    void keepReading(source, port, stop.signal)
  },

  stop(): void {
    clearInterval(timer)
    const was = reading.value
    if (!was) return
    was.stop.abort()
    setPort(was.scale, null)
    reading.value = null
    view.value = null
    void ask({ ask: 'port_close', port: `${was.name}/${was.scale}` }).catch(() => undefined)
  },
}
