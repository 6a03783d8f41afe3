import { type ComputedRef, type Ref, computed } from 'vue'
import type { SetupDraft, Unit } from '../api/types'
import { useSites } from '../api/profiles'
import { useTyped } from '../state/typed'
import type { JobContext } from './useJob'

export type SetupField =
  | 'max'
  | 'd'
  | 'unit'
  | 'decimals'
  | 'mode'
  | 'fine_max'
  | 'fine_d'
  | 'adjusted_at'
  | 'gravity'
  | 'calibrated_in'
  | 'pad'

export interface SetupTyping {
  fields: Record<SetupField, Ref<string>>
  draft: ComputedRef<SetupDraft>
}

/** The set-up as it is being typed; kept across reloads. Empty decimals: as the division needs. */
export function useSetup(job: JobContext): SetupTyping {
  const inForce = computed(() => job.assessment.value?.setup.setup)
  const { data: sites } = useSites()
  const field = (name: SetupField, initial: () => string) => useTyped(() => `${job.id}.setup.${name}`, initial)
  const fields = {
    max: field('max', () => inForce.value?.max.value ?? ''),
    d: field('d', () => inForce.value?.d.value ?? ''),
    unit: field('unit', () => inForce.value?.d.unit ?? 'kg'),
    decimals: field('decimals', () => ''),
    mode: field('mode', () => inForce.value?.mode ?? 'single'),
    fine_max: field('fine_max', () => inForce.value?.fine?.max.value ?? ''),
    fine_d: field('fine_d', () => inForce.value?.fine?.d.value ?? ''),
    adjusted_at: field('adjusted_at', () => inForce.value?.adjusted_at?.name ?? ''),
    gravity: field('gravity', () => inForce.value?.gravity ?? ''),
    calibrated_in: field('calibrated_in', () => inForce.value?.calibrated_in ?? ''),
    pad: field('pad', () => '0'),
  }
  const several = computed(() => (job.assessment.value?.sheet.pads ?? 1) > 1)
  const draft = computed<SetupDraft>(() => ({
    max: fields.max.value,
    d: fields.d.value,
    unit: fields.unit.value as Unit,
    decimals: fields.decimals.value,
    mode: fields.mode.value as SetupDraft['mode'],
    fine_max: fields.fine_max.value,
    fine_d: fields.fine_d.value,
    adjusted_at: sites.value?.find((s) => s.name === fields.adjusted_at.value) ?? null,
    // What is not shown is not recorded.
    gravity: fields.adjusted_at.value ? fields.gravity.value : '',
    calibrated_in: (fields.calibrated_in.value || null) as SetupDraft['calibrated_in'],
    pad: several.value ? Number(fields.pad.value) : null,
  }))
  return { fields, draft }
}
