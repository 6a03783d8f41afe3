import type { Grade, Outcome, Role } from '../api/types'

export const outcomeVerdict = (o: Outcome): 'within' | 'outside' | 'none' =>
  o === 'in_tolerance' ? 'within' : o === 'out_of_tolerance' ? 'outside' : 'none'

export const outcomeWord = (o: Outcome): string =>
  ({ in_tolerance: 'In tolerance', out_of_tolerance: 'OUT OF TOLERANCE', not_proven: 'Not proved' })[o]

export const roleWord = (r: Role): string =>
  ({ technician: 'technician', reviewer: 'reviewer', manager: 'manager', reader: 'reader' })[r]

export const gradeWord = (g: Grade | null): string =>
  g ? { sound: 'sound', caution: 'caution', refuse: 'REFUSED' }[g] : 'proposed'

const moment = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })
const day = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium' })
export const momentText = (iso: string): string => moment.format(new Date(iso))
export const dayText = (iso: string): string => day.format(new Date(iso.length === 10 ? `${iso}T12:00:00` : iso))
export const clockText = (iso: string): string =>
  new Intl.DateTimeFormat(undefined, { timeStyle: 'short' }).format(new Date(iso))

/** Max × d, each with its own unit where the two differ. */
export function maxByD(max: { value: string; unit: string }, d: { value: string; unit: string }): string {
  return max.unit === d.unit ? `${max.value} × ${d.value} ${d.unit}` : `${max.value} ${max.unit} × ${d.value} ${d.unit}`
}
