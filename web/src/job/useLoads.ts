import type { Text } from '../words'
import { type ComputedRef, type MaybeRefOrGetter, computed, toValue } from 'vue'
import { usePlan } from '../api/kit'
import type { Assessment, ListedLoad, PlanReply, ReadStage } from '../api/types'
import { useJob } from './useJob'
import { usePlanChoices } from './usePlanChoices'

export interface Loads {
  /** The one list of loads of the stage, in the order in which they are put on. */
  list: ComputedRef<ListedLoad[]>
  /** The load that is next; none while it is being worked out. */
  next: ComputedRef<ListedLoad | null>
  /** The headline asks for a load of this stage: elsewhere nothing of the list is next. */
  active: ComputedRef<boolean>
  /** What to do for it, in a sentence. */
  says: ComputedRef<Text | null>
  /** The pieces are being chosen: nothing can be booked meanwhile. */
  planning: ComputedRef<boolean>
  plan: ComputedRef<PlanReply | undefined>
}

/** The headline asks for a load of this stage. */
export const asksForLoad = (a: Assessment | undefined, stage: ReadStage | null): boolean =>
  a?.next.act === 'read' && a.next.stage === stage

/** Headline, field, list and ladder of a stage all read this; a kit that cannot be asked leaves the list as it is. */
export function useLoads(stage: MaybeRefOrGetter<ReadStage | null>): Loads {
  const job = useJob()
  const { choices } = usePlanChoices(() => job.id)
  const a = computed(() => job.assessment.value)
  const asked = computed(() => ({
    choices: choices.value,
    span: '',
    stage: toValue(stage) ?? 'prove',
    entries: a.value?.entries.length ?? 0,
  }))
  const open = computed(() => toValue(stage) !== null && Boolean(a.value) && !job.frozen.value)
  const query = usePlan(() => job.id, asked, open)
  const base = computed(() => (toValue(stage) === 'as_found' ? a.value?.as_found.loads : a.value?.proof.loads) ?? [])
  const planning = computed(
    () => open.value && !query.isError.value && (query.isPending.value || query.isPlaceholderData.value),
  )
  const plan = computed(() => (planning.value || query.isError.value || !open.value ? undefined : query.data.value))
  const list = computed(() => plan.value?.loads ?? base.value)
  return {
    list,
    next: computed(() => (planning.value ? null : (list.value.find((l) => l.status === 'next') ?? null))),
    active: computed(() => asksForLoad(a.value, toValue(stage))),
    says: computed(() => plan.value?.says ?? null),
    planning,
    plan,
  }
}
