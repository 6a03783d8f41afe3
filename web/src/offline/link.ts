import type { Source } from './serial'

// The link program on this device: it reads serial and TCP indicators and hands their lines to the page that has its
// code.

const PATIENCE_MS = 3_000

function opened(address: string, code: string): Promise<WebSocket | null> {
  return new Promise((resolve) => {
    const socket = new WebSocket(`${address}?code=${encodeURIComponent(code.trim())}`, 'ombret.lines')
    const late = setTimeout(() => {
      socket.close()
      resolve(null)
    }, PATIENCE_MS)
    const done = (found: WebSocket | null): void => {
      clearTimeout(late)
      resolve(found)
    }
    socket.onopen = () => done(socket)
    socket.onerror = () => done(null)
  })
}

/** The link at an address of this machine with this code; null where there is none, or the code is another. */
export async function linkSource(address: string, code: string): Promise<Source | null> {
  let socket = await opened(address, code)
  if (!socket) return null
  return {
    name: 'link',
    async read(heard, stop) {
      const line = socket ?? (await opened(address, code))
      socket = null
      if (!line) throw new Error('no link')
      await new Promise<void>((resolve) => {
        const end = (): void => line.close()
        stop.addEventListener('abort', end)
        line.onmessage = ({ data }: MessageEvent<string>) => heard(data)
        line.onclose = () => {
          stop.removeEventListener('abort', end)
          resolve()
        }
      })
    },
  }
}
