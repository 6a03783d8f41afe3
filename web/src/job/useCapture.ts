import { type ComputedRef, type Ref, computed, ref, watch } from 'vue'
import type { LiveView } from '../api/types'
import { onKey } from '../state/keys'
import { confirmBySound } from '../state/sound'
import { plain } from '../ui/format'

export interface AutoTake {
  /** Every load that is asked for is taken by itself when it rests. */
  armed: Ref<boolean>
  /** What is on is near the load that is asked for. */
  isNear: ComputedRef<boolean>
}

// One run is one decision: armed once, it stays so from stage to stage of its job.
const runs = new Map<string, Ref<boolean>>()
function armedOf(job: string): Ref<boolean> {
  const known = runs.get(job)
  if (known) return known
  const made = ref(false)
  runs.set(job, made)
  return made
}
const amountOf = (text: string | null | undefined) => Number.parseFloat(plain(text ?? ''))

/**
 * Armed, every steady reading near the load that is asked for is taken by itself: hands stay on the weights. A
 * reading is taken once; it must move before the next. The plus key arms it.
 */
export function useCapture(
  job: string,
  from: {
    live: () => LiveView | null
    load: () => string
    d: () => string
    /** Something stands in the way: a figure is typed, an entry is being sent. */
    held: () => boolean
    take: () => Promise<boolean>
  },
): AutoTake {
  const armed = armedOf(job)
  const moved = ref(true)
  const steady = computed(() => from.live()?.steady)
  const isNear = computed(() => {
    const [at, wanted, d] = [amountOf(from.live()?.shown), amountOf(from.load()), amountOf(from.d())]
    return Number.isFinite(at) && Number.isFinite(wanted) && Math.abs(at - wanted) <= Math.max(d * 5, wanted * 0.05)
  })
  watch(steady, (now) => {
    if (now === false) moved.value = true
  })
  watch([steady, isNear, armed, from.held], async () => {
    if (!armed.value || !moved.value || !steady.value || !isNear.value || from.held()) return
    moved.value = false
    if (!(await from.take())) return
    confirmBySound()
    // In a pocket or a glove it is felt.
    navigator.vibrate?.(60)
  })
  onKey('run', () => {
    if (!from.live()) return false
    armed.value = !armed.value
  })
  return { armed, isNear }
}
