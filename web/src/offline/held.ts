import { computed, shallowRef, triggerRef } from 'vue'
import type { Schema } from '../api/types'
import { ask, whenLost } from './core'
import { vault } from './vault'

export type Sealed = Schema<'Sealed'>

/** A job that this device holds whole. */
export interface HeldJob {
  id: string
  scale: string
  name: string
  owner: string
  /** The last entry that the server has. */
  home: number
  entries: Sealed[]
  /** Signatures of the device, by the seal of what they sign. */
  signatures: Record<string, string>
  /** The number that the server gave its record. */
  number: string | null
  closed_at: string | null
}

const jobs = shallowRef(new Map<string, HeldJob>())
/** Jobs that the core has at hand. */
const atHand = new Set<string>()
whenLost(() => atHand.clear())

const changed = (): void => triggerRef(jobs)

export const unsent = (job: HeldJob): number => job.entries.filter((e) => e.seq > job.home).length

/** Whether the server does not have all of a job: it is gone on with here. */
export const isPending = (job: HeldJob): boolean => job.home === 0 || unsent(job) > 0

/** The job as it is kept, where another window has changed it. */
async function refresh(id: string): Promise<void> {
  const kept = vault.lock.value ? await vault.get<HeldJob>(`job/${id}`) : undefined
  const known = jobs.value.get(id)
  const same = kept?.home === known?.home && kept?.entries.at(-1)?.hash === known?.entries.at(-1)?.hash
  if (same) return
  if (kept) jobs.value.set(id, kept)
  else jobs.value.delete(id)
  atHand.delete(id)
  changed()
}

export const held = {
  all: computed(() => [...jobs.value.values()]),
  /** How many entries the server does not have. */
  unsent: computed(() => [...jobs.value.values()].reduce((sum, job) => sum + unsent(job), 0)),

  get: (id: string): HeldJob | undefined => jobs.value.get(id),

  /** Finds what is kept, once it is unlocked. */
  async look(): Promise<void> {
    const found = new Map<string, HeldJob>()
    for (const name of await vault.names('job/')) {
      const job = await vault.get<HeldJob>(name)
      if (job) found.set(job.id, job)
    }
    jobs.value = found
    atHand.clear()
  },

  /** Keeps a job, with whatever else must be on the disk together with it. */
  async keep(job: HeldJob, beside: [string, unknown][] = []): Promise<void> {
    await vault.keep([[`job/${job.id}`, job], ...beside])
    jobs.value.set(job.id, job)
    changed()
  },

  /** The job is the server's again, and nobody takes it along. */
  async drop(id: string): Promise<void> {
    await vault.remove([`job/${id}`, ...(await vault.names(`file/${id}/`))])
    jobs.value.delete(id)
    atHand.delete(id)
    changed()
    await ask({ ask: 'leave', job: id })
  },

  clear(): void {
    jobs.value = new Map()
    atHand.clear()
  },

  /** Gives the core a job as it is kept, where it does not have it. */
  async hand(job: HeldJob): Promise<void> {
    if (atHand.has(job.id)) return
    await handWorkshop()
    await ask({ ask: 'open', job: job.id, entries: job.entries })
    atHand.add(job.id)
  },

  /**
   * One after the other at one job, whichever window of this device it is: nothing is entered while it goes home, and
   * nobody goes on from what another window has gone on from.
   */
  alone<T>(id: string, work: () => Promise<T>): Promise<T> {
    const turn = async (): Promise<T> => {
      await refresh(id)
      return work()
    }
    return navigator.locks.request(`ombret.job.${id}`, turn) as Promise<T>
  },

  /** The core's copy is not that of what is kept any more. */
  stale(id: string): void {
    atHand.delete(id)
  },
}

/** When the core was given what the workshop brings. */
let handedAt = 0
whenLost(() => (handedAt = 0))
const FRESH_MS = 60_000

/** Gives the core what the workshop brings: as it is now, or as it was taken along. */
export async function handWorkshop(now?: () => Promise<object>): Promise<void> {
  if (handedAt && (!now || Date.now() - handedAt < FRESH_MS)) return
  const workshop = now ? await now() : await vault.get<object>('answer/api/offline/workshop')
  await ask({ ask: 'workshop', ...workshop })
  handedAt = Date.now()
}

/** What the core was given is not what is kept any more. */
export const workshopIsOld = (): void => void (handedAt = 0)
