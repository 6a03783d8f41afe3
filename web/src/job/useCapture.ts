import { type ComputedRef, type Ref, computed, ref, watch } from 'vue'
import { useVocabulary } from '../api/scales'
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

/** A figure with or without its unit as a number of that unit; none where it is no figure or of another unit. Only for
 * telling whether hands have put on about what is asked for: what is taken is the exact text, and the core judges it. */
function amountIn(unit: string, text: string | null | undefined): number {
  const [figure = '', of = unit] = plain(text ?? '').split(/\s+/)
  return of === unit && figure !== '' ? Number(figure) : Number.NaN
}

/**
 * Armed, every steady reading near the load that is asked for is taken by itself: hands stay on the weights. A
 * reading is taken once; it must move before the next. The plus key arms it.
 */
export function useCapture(
  job: string,
  from: {
    live: () => LiveView | null
    load: () => string
    d: () => { value: string; unit: string }
    /** Something stands in the way: a figure is typed, an entry is being sent. */
    held: () => boolean
    take: () => Promise<boolean>
  },
): AutoTake {
  const armed = armedOf(job)
  const { data: words } = useVocabulary()
  const moved = ref(true)
  const steady = computed(() => from.live()?.steady)
  const isNear = computed(() => {
    const { value, unit } = from.d()
    const at = amountIn(unit, from.live()?.shown)
    const wanted = amountIn(unit, from.load())
    const { divisions = 0, per_cent = 0 } = words.value?.near ?? {}
    return Math.abs(at - wanted) <= Math.max(divisions * amountIn(unit, value), (per_cent / 100) * Math.abs(wanted))
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
