import { say } from '../words'
import type { Grade, Outcome, Role } from '../api/types'
import { language } from '../state/preferences'
import { figure, localeOf } from '../words'

export const outcomeVerdict = (o: Outcome): 'within' | 'outside' | 'none' =>
  o === 'in_tolerance' ? 'within' : o === 'out_of_tolerance' ? 'outside' : 'none'

export const outcomeWord = (o: Outcome): string =>
  ({
    in_tolerance: say('format-in-tolerance'),
    out_of_tolerance: say('format-out-of-tolerance'),
    not_proven: say('format-not-proved'),
  })[o]

export const roleWord = (r: Role): string => say(`role-${r}`)

export const gradeWord = (g: Grade | null): string => say(`grade-${g ?? 'proposed'}`)

const dates = (style: Intl.DateTimeFormatOptions) => {
  const made = new Map<string, Intl.DateTimeFormat>()
  return (at: Date): string => {
    const locale = localeOf(language.value)
    const format = made.get(locale) ?? new Intl.DateTimeFormat(locale, style)
    made.set(locale, format)
    return format.format(at)
  }
}
const moment = dates({ dateStyle: 'medium', timeStyle: 'short' })
const day = dates({ dateStyle: 'medium' })
const clock = dates({ timeStyle: 'short' })
export const momentText = (iso: string): string => moment(new Date(iso))
export const dayText = (iso: string): string => day(new Date(iso.length === 10 ? `${iso}T12:00:00` : iso))
export const clockText = (iso: string): string => clock(new Date(iso))

/** A figure as it was typed, with a point and a hyphen, as the server reads it. */
export const plain = (text: string): string => text.trim().replace(',', '.').replace('−', '-')

/** A figure of more digits than this is told with so many: a conversion gives more than anybody reads. The same
 * as a mass says of itself in the core; what is stored and computed with keeps all of them. */
const MOST_DIGITS = 12
const TOLD_DIGITS = 7

/** An exact figure as a person reads it; the browser takes a decimal as text and loses none of it. */
export const told = (value: string): string =>
  value.replace(/\D/g, '').length <= MOST_DIGITS
    ? figure(value)
    : new Intl.NumberFormat(localeOf(language.value), {
        maximumSignificantDigits: TOLD_DIGITS,
        useGrouping: false,
      }).format(value as unknown as number)

/** A mass as a person reads it. */
export const massText = (m: { value: string; unit: string }): string => `${told(m.value)} ${m.unit}`

/** A statistic (never a reading) with so many decimals. */
export const rounded = (value: number, decimals: number): string =>
  new Intl.NumberFormat(localeOf(language.value), {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
    useGrouping: false,
  }).format(value)

/** A share as a percentage with so many decimals, without its sign. */
export const percent = (share: number, decimals = 0): string => rounded(share * 100, decimals)

/** Max × d, each with its own unit where the two differ. */
export function maxByD(max: { value: string; unit: string }, d: { value: string; unit: string }): string {
  return max.unit === d.unit ? `${figure(max.value)} × ${massText(d)}` : `${massText(max)} × ${massText(d)}`
}
