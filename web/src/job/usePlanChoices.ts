import { type ComputedRef, computed } from 'vue'
import type { PlanChoices, PlannedStep } from '../api/types'
import { useTyped } from '../state/typed'

interface Choosing {
  choices: ComputedRef<PlanChoices>
  /** How many choices are in force. */
  count: ComputedRef<number>
  bar: (id: string) => void
  swap: (out: string, into: string) => void
  isLocked: (step: PlannedStep) => boolean
  lock: (step: PlannedStep) => void
  forget: () => void
  /** The loads of least work, or round ones. */
  least: (work: boolean) => void
}

const none = (): PlanChoices => ({ barred: [], preferred: [], swaps: [], locked: [], least_work: false })
const same = (a: PlannedStep['wanted'], b: PlannedStep['wanted']) => a.value === b.value && a.unit === b.unit

/** What the technician settled of a job's plan: it is kept with what was typed, and replans at once. */
export function usePlanChoices(job: () => string): Choosing {
  const kept = useTyped(() => `${job()}.plan`)
  const choices = computed<PlanChoices>(() => {
    try {
      return { ...none(), ...(JSON.parse(kept.value || '{}') as Partial<PlanChoices>) }
    } catch {
      return none()
    }
  })
  const keep = (next: Partial<PlanChoices>) => (kept.value = JSON.stringify({ ...choices.value, ...next }))
  const isLocked = (step: PlannedStep) => (choices.value.locked ?? []).some((l) => same(l.wanted, step.wanted))
  return {
    choices,
    count: computed(
      () =>
        (choices.value.barred ?? []).length + (choices.value.swaps ?? []).length + (choices.value.locked ?? []).length,
    ),
    bar: (id) => keep({ barred: [...(choices.value.barred ?? []), id] }),
    swap: (out, into) => keep({ swaps: [...(choices.value.swaps ?? []), [out, into]] }),
    isLocked,
    lock: (step) => {
      const others = (choices.value.locked ?? []).filter((l) => !same(l.wanted, step.wanted))
      keep({ locked: isLocked(step) ? others : [...others, { wanted: step.wanted, pieces: step.on.map((p) => p.id) }] })
    },
    forget: () => (kept.value = ''),
    least: (work) => keep({ least_work: work }),
  }
}
