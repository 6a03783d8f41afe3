/// <reference lib="webworker" />
// The core, in a thread of its own: a question as JSON comes in, an answer as JSON goes out.
import type { Asked, Told } from './core'

interface Exports {
  memory: WebAssembly.Memory
  room(length: number): number
  answer(at: number, length: number): bigint
  give_back(at: number, length: number): void
}

declare const self: DedicatedWorkerGlobalScope

const compiled = WebAssembly.compileStreaming(fetch(__CORE__))
const [encoder, decoder] = [new TextEncoder(), new TextDecoder()]
let instance: WebAssembly.Instance | undefined

function answer(core: Exports, question: string): string {
  const bytes = encoder.encode(question)
  const at = core.room(bytes.length)
  new Uint8Array(core.memory.buffer, at, bytes.length).set(bytes)
  const told = BigInt.asUintN(64, core.answer(at, bytes.length))
  const [from, length] = [Number(told >> 32n), Number(told & 0xffffffffn)]
  const text = decoder.decode(new Uint8Array(core.memory.buffer, from, length))
  core.give_back(from, length)
  return text
}

async function told({ id, question }: Asked): Promise<Told> {
  try {
    instance ??= await WebAssembly.instantiate(await compiled)
    return { id, answer: answer(instance.exports as unknown as Exports, question) }
  } catch {
    // A trap leaves the instance in no known state: the next question goes to a new one, which knows nothing yet.
    instance = undefined
    return { id, lost: true }
  }
}

let last: Promise<void> = Promise.resolve()
self.onmessage = ({ data }: MessageEvent<Asked>) => {
  last = last.then(async () => self.postMessage(await told(data)))
}
