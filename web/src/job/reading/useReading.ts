import { type ComputedRef, type Ref, computed, ref, watch } from 'vue'
import type { Draft, ListedLoad, LiveView, ReadStage, Source, Direction } from '../../api/types'
import { useTyped } from '../../state/typed'
import { plain } from '../../ui/format'
import type { JobContext } from '../useJob'
import type { Loads } from '../useLoads'

type Piece = ListedLoad['pieces'][number]

/** The reading that is being made: what stands in the form, and what goes on the record of it. */
export interface Reading {
  /** The load of the list that is asked for. */
  asked: ComputedRef<ListedLoad | null>
  load: Ref<string>
  shown: Ref<string>
  direction: Ref<Direction>
  pad: Ref<number>
  pads: ComputedRef<number>
  pieces: Ref<Piece[]>
  /** Pieces were named by hand: they say what the load is. */
  byHand: Ref<Piece[] | null>
  /** What is put on and taken off for the load that is asked for. */
  moves: ComputedRef<ListedLoad | null>
  /** Why pieces are used that are not fit. */
  overruled: Ref<string>
  /** Small weights until the display goes to the next division. */
  small: Ref<boolean>
  added: Ref<string>
  /** Times that the weights were replaced with material. */
  rounds: Ref<string>
  /** The same load is read once more, knowingly. */
  again: Ref<boolean>
  takesLive: ComputedRef<boolean>
  hasLoad: () => boolean
  draft: () => Draft
  /** All that was typed and chosen: a preview belongs to it as long as it stays the same. */
  inForm: () => string
  clear: () => void
}

type Typed = Pick<Reading, 'asked' | 'load' | 'direction' | 'pad' | 'byHand'>

/** What the list asks for stands in the form until somebody says otherwise. Returns: puts it there again. */
function follow(loads: Loads, { asked, load, direction, pad, byHand }: Typed): () => void {
  const suggested = () => asked.value?.load.value ?? ''
  // A suggestion that comes late never takes the place of what somebody typed or pressed; the direction
  // and the pad follow only when another reading is asked for.
  const asks = (of: ListedLoad | null) => (of ? `${of.load.value}|${of.direction}|${of.pad}` : '')
  let offered = suggested()
  watch([asked, loads.planning], ([now, planning], [before]) => {
    const untouched = load.value === '' || load.value === offered
    // While it is worked out there is nothing in the field that could be booked.
    offered = planning ? '' : suggested()
    if (untouched) load.value = offered
    if (planning || !now || asks(now) === asks(before ?? null)) return
    direction.value = now.direction
    pad.value = now.pad
    byHand.value = null
  })
  return () => {
    byHand.value = null
    offered = suggested()
    load.value = offered
  }
}

/** The pieces that go on the record: those of the list while its load stands in the field, those that were named
 * by hand otherwise. */
function usePieces(loads: Loads, { asked, load, pad, byHand }: Typed): Pick<Reading, 'pieces' | 'moves'> {
  const ofList = computed<ListedLoad | null>(() => {
    const fits = (l: ListedLoad) => l.purpose === 'load' && l.load.value === plain(load.value) && l.pad === pad.value
    if (asked.value && fits(asked.value)) return asked.value
    return loads.list.value.find((l) => fits(l) && l.pieces.length) ?? null
  })
  const pieces = computed<Piece[]>({
    get: () => byHand.value ?? ofList.value?.pieces ?? [],
    set: (named) => (byHand.value = named),
  })
  return { pieces, moves: computed(() => (byHand.value === null && ofList.value === asked.value ? asked.value : null)) }
}

/** Load, direction, pad and pieces are those of the one list of loads until somebody says otherwise. */
export function useReading(
  job: JobContext,
  loads: Loads,
  from: { stage: () => ReadStage; live: () => LiveView | null },
): Reading {
  const asked = computed(() => (loads.next.value?.purpose === 'load' ? loads.next.value : null))
  const typed = (field: string, initial = () => '') => useTyped(() => `${job.id}.${from.stage()}.${field}`, initial)
  const load = typed('load', () => asked.value?.load.value ?? '')
  const [shown, added, rounds] = [typed('shown'), typed('added'), typed('rounds')]
  const overruled = useTyped(() => `${job.id}.overruled`)
  const direction = ref<Direction>(asked.value?.direction ?? 'up')
  const pad = ref(asked.value?.pad ?? 1)
  const pads = computed(() => job.assessment.value?.sheet.pads ?? 1)
  const byHand = ref<Piece[] | null>(null)
  const small = ref(false)
  const again = ref(false)
  watch([load, direction, pad], () => (again.value = false))
  const chosen = { asked, load, direction, pad, byHand }
  const offer = follow(loads, chosen)
  const { pieces, moves } = usePieces(loads, chosen)
  const takesLive = computed(() => shown.value.trim() === '' && from.live() !== null)
  const source = (): Source => (takesLive.value ? { from: 'live' } : { from: 'typed', text: shown.value, steady: true })

  const draft = (): Draft => ({
    kind: 'read',
    stage: from.stage(),
    load: load.value,
    shown: source(),
    direction: direction.value,
    pad: pads.value > 1 ? pad.value : null,
    with: pieces.value.map((p) => p.id),
    once: !again.value,
    overruled: overruled.value,
    added: small.value ? added.value : '',
    purpose: 'load',
    position: null,
    substituted: rounds.value,
  })
  function clear(): void {
    for (const text of [shown, added, rounds, overruled]) text.value = ''
    again.value = false
    offer()
  }
  const hasLoad = () => load.value.trim() !== '' || (byHand.value?.length ?? 0) > 0
  const inForm = () => JSON.stringify({ ...draft(), once: true })
  const fields = { shown, pads, pieces, moves, overruled, small, added, rounds, again }
  return { ...chosen, ...fields, takesLive, hasLoad, draft, inForm, clear }
}
