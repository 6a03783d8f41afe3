import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import { v7 as uuidv7 } from 'uuid'
import { computed, readonly, shallowRef } from 'vue'
import type { Person } from '../api/types'
import { refusal } from './core'

// What is kept on this device, under lock: a random key enciphers it, and the password of whoever it belongs to
// opens the key. The key lives in this page alone; whoever finds the device finds nothing they can read.

/** PBKDF2 with SHA-256; OWASP's figure of 2023. */
const ROUNDS = 600_000

type Bytes = Uint8Array<ArrayBuffer>

interface Sealed {
  iv: Bytes
  data: ArrayBuffer
}

/** The lock of one person; nothing in it opens anything without the password. */
export interface Lock {
  person: Person
  device: string
  name: string
  salt: Bytes
  key: Sealed
  /** The signing key of the device, under the same key. */
  signing: Sealed
  publicKey: string
  /** The server has taken note of the device. */
  known: boolean
}

interface Stores extends DBSchema {
  locks: { key: string; value: Lock }
  kept: { key: string; value: Sealed & { at: number } }
}

/** A lock with its keys. */
export interface Open {
  lock: Lock
  key: CryptoKey
  signing: CryptoKey
}

const opened = shallowRef<Open | null>(null)
const locks = shallowRef<Lock[]>([])
let database: Promise<IDBPDatabase<Stores>> | undefined

const db = (): Promise<IDBPDatabase<Stores>> =>
  (database ??= openDB<Stores>('ombret', 1, {
    upgrade(to) {
      to.createObjectStore('locks')
      to.createObjectStore('kept')
    },
  }))

export const hex = (bytes: ArrayBuffer | Bytes): string =>
  [...new Uint8Array(bytes)].map((byte) => byte.toString(16).padStart(2, '0')).join('')

async function encipher(key: CryptoKey, plain: BufferSource): Promise<Sealed> {
  const iv = crypto.getRandomValues(new Uint8Array(12))
  return { iv, data: await crypto.subtle.encrypt({ name: 'AES-GCM', iv }, key, plain) }
}

const decipher = (key: CryptoKey, { iv, data }: Sealed): Promise<ArrayBuffer> =>
  crypto.subtle.decrypt({ name: 'AES-GCM', iv }, key, data)

async function ofPassword(password: string, salt: Bytes): Promise<CryptoKey> {
  const typed = new TextEncoder().encode(password.normalize('NFC'))
  const material = await crypto.subtle.importKey('raw', typed, 'PBKDF2', false, ['deriveKey'])
  const how = { name: 'PBKDF2', hash: 'SHA-256', salt, iterations: ROUNDS }
  return crypto.subtle.deriveKey(how, material, { name: 'AES-GCM', length: 256 }, false, ['encrypt', 'decrypt'])
}

async function open(lock: Lock, password: string): Promise<boolean> {
  try {
    const raw = await decipher(await ofPassword(password, lock.salt), lock.key)
    const key = await crypto.subtle.importKey('raw', raw, 'AES-GCM', false, ['encrypt', 'decrypt'])
    const pkcs8 = await decipher(key, lock.signing)
    const signing = await crypto.subtle.importKey('pkcs8', pkcs8, 'Ed25519', false, ['sign'])
    opened.value = { lock, key, signing }
    return true
  } catch {
    return false
  }
}

const place = (name: string): string => `${opened.value?.lock.person.id ?? ''}/${name}`
const mine = () => IDBKeyRange.bound(place(''), place('\uffff'))

export const vault = {
  /** Whether this browser can keep anything under lock; that needs HTTPS, or the machine itself. */
  possible: typeof indexedDB !== 'undefined' && typeof crypto !== 'undefined' && Boolean(crypto.subtle),
  lock: computed(() => opened.value?.lock ?? null),
  locks: readonly(locks),

  /** Finds the locks of this device. */
  async look(): Promise<void> {
    if (this.possible) locks.value = await (await db()).getAll('locks')
  },

  /** Makes a lock for a person; the device's signing key is made here and never leaves it. */
  async make(person: Person, name: string, password: string): Promise<Open> {
    const salt = crypto.getRandomValues(new Uint8Array(16))
    const raw = crypto.getRandomValues(new Uint8Array(32))
    const key = await crypto.subtle.importKey('raw', raw, 'AES-GCM', false, ['encrypt', 'decrypt'])
    const pair = (await crypto.subtle.generateKey('Ed25519', true, ['sign', 'verify'])) as CryptoKeyPair
    const lock: Lock = {
      person: { ...person, roles: [...person.roles] },
      device: uuidv7(),
      name,
      salt,
      key: await encipher(await ofPassword(password, salt), raw),
      signing: await encipher(key, await crypto.subtle.exportKey('pkcs8', pair.privateKey)),
      publicKey: hex(await crypto.subtle.exportKey('raw', pair.publicKey)),
      known: false,
    }
    return { lock, key, signing: pair.privateKey }
  },

  /** Keeps a lock and opens it, once the server knows the device; or what is known of its person now. */
  async settle(person: Person, made?: Open): Promise<void> {
    const held = made ?? opened.value
    if (!held) return
    const lock = { ...held.lock, person: { ...person, roles: [...person.roles] }, known: true }
    await (await db()).put('locks', lock, lock.person.id)
    opened.value = { ...held, lock }
    await this.look()
  },

  /** Opens the lock of a person, or whichever the password opens; null where it opens none. */
  async unlock(password: string, person?: string): Promise<Person | null> {
    await this.look()
    for (const lock of locks.value.filter((l) => !person || l.person.id === person))
      if (await open(lock, password)) return lock.person
    return null
  },

  /** The key is gone from this page; what is kept stays. */
  shut(): void {
    opened.value = null
  },

  /** Forgets a person's lock with everything that is kept under it. */
  async forget(person: string): Promise<void> {
    const at = await db()
    const change = at.transaction(['locks', 'kept'], 'readwrite')
    await change.objectStore('locks').delete(person)
    await change.objectStore('kept').delete(IDBKeyRange.bound(`${person}/`, `${person}/\uffff`))
    await change.done
    if (opened.value?.lock.person.id === person) opened.value = null
    await this.look()
  },

  /** Keeps several things at once: all of them are on the disk when this is done, or none. */
  async keep(things: [name: string, value: unknown][]): Promise<void> {
    const held = opened.value
    if (!held) throw new Error('nothing is kept while it is locked')
    const ready: [string, Sealed & { at: number }][] = []
    for (const [name, value] of things) {
      const plain = value instanceof ArrayBuffer ? value : new TextEncoder().encode(JSON.stringify(value))
      ready.push([place(name), { ...(await encipher(held.key, plain)), at: Date.now() }])
    }
    const change = (await db()).transaction('kept', 'readwrite', { durability: 'strict' })
    for (const [key, value] of ready) void change.store.put(value, key)
    await change.done.catch((error: unknown) => {
      throw error instanceof DOMException && error.name === 'QuotaExceededError'
        ? refusal('no_room', 'offline-this-device-is-full')
        : error
    })
  },

  async bytes(name: string): Promise<ArrayBuffer | undefined> {
    const held = opened.value
    const kept = held && (await (await db()).get('kept', place(name)))
    return kept ? decipher(held.key, kept) : undefined
  },

  async get<T>(name: string): Promise<T | undefined> {
    const bytes = await this.bytes(name)
    return bytes && (JSON.parse(new TextDecoder().decode(bytes)) as T)
  },

  /** Names of what is kept that begin so. */
  async names(begin = ''): Promise<string[]> {
    if (!opened.value) return []
    const from = place('').length
    const all = await (await db()).getAllKeys('kept', mine())
    return all.map((key) => key.slice(from)).filter((name) => name.startsWith(begin))
  },

  async remove(names: string[]): Promise<void> {
    const change = (await db()).transaction('kept', 'readwrite', { durability: 'strict' })
    for (const name of names) void change.store.delete(place(name))
    await change.done
  },

  /** The device's signature, as hexadecimal digits. */
  async sign(text: string): Promise<string> {
    const held = opened.value
    if (!held) throw new Error('nothing is signed while it is locked')
    return hex(await crypto.subtle.sign('Ed25519', held.signing, new TextEncoder().encode(text)))
  },

  /** Whether a password opens the lock that is open. */
  async is(password: string): Promise<boolean> {
    const held = opened.value
    if (!held) return false
    try {
      await decipher(await ofPassword(password, held.lock.salt), held.lock.key)
      return true
    } catch {
      return false
    }
  },
}
