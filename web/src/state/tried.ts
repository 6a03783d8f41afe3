import { type Ref, ref } from 'vue'
import { Failure } from '../api/client'

export interface Tried {
  failure: Ref<Failure | null>
  busy: Ref<boolean>
  /** Does something that the server may refuse; true where it did not. */
  tried: (work: () => Promise<unknown>) => Promise<boolean>
  /** The refusal at a field, with what to do. */
  wrong: (field: string) => string
  /** The refusal where it is at none of these fields. */
  general: (fields: string[]) => Failure | null
}

/** What is sent from a form: a refusal stays beside it until the next try. */
export function useTried(): Tried {
  const failure = ref<Failure | null>(null) as Ref<Failure | null>
  const busy = ref(false)
  async function tried(work: () => Promise<unknown>): Promise<boolean> {
    failure.value = null
    busy.value = true
    try {
      await work()
      return true
    } catch (error) {
      if (!(error instanceof Failure)) throw error
      failure.value = error
      return false
    } finally {
      busy.value = false
    }
  }
  return {
    failure,
    busy,
    tried,
    wrong: (field) => failure.value?.at(field) ?? '',
    general: (fields) => (failure.value && !fields.includes(failure.value.problem?.field ?? '') ? failure.value : null),
  }
}
