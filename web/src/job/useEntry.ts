import { type Ref, computed, ref } from 'vue'
import { Failure } from '../api/client'
import type { Draft } from '../api/types'
import { useJob } from './useJob'

export interface EntryForm {
  failure: Ref<Failure | null>
  /** The message for a field, where the refusal names it. */
  wrong: (field: string) => string
  /** The refusal where it names no field of this form. */
  general: (fields: string[]) => Failure | null
  /** The password goes with a signature only; it is kept nowhere. */
  enter: (draft: Draft, password?: string) => Promise<boolean>
  blocked: Readonly<Ref<boolean>>
}

/** Sends entries and keeps the refusal at its field. */
export function useEntry(): EntryForm {
  const job = useJob()
  const failure = ref<Failure | null>(null)

  async function enter(draft: Draft, password?: string): Promise<boolean> {
    failure.value = null
    const sent = await job.send(draft, password)
    if (sent instanceof Failure) failure.value = sent
    return !(sent instanceof Failure)
  }

  return {
    failure: failure as Ref<Failure | null>,
    wrong: (field) => failure.value?.at(field) ?? '',
    general: (fields) =>
      failure.value && !fields.includes(failure.value.problem?.field ?? '') ? (failure.value as Failure) : null,
    enter,
    blocked: computed(() => job.busy.value || job.waiting.value !== null),
  }
}
