import type { CalculatorQuestion } from '../api/types'

type Typed = Record<string, string>
export interface CalculatorField {
  name: string
  label: string
  /** A mass: the unit is shown with it. */
  mass?: boolean
  optional?: boolean
  initial?: string
  /** The field's name in a refusal, where it differs. */
  at?: string
}
export interface CalculatorTool {
  name: string
  label: string
  title: string
  fields: CalculatorField[]
  question: (typed: Typed) => CalculatorQuestion
}

const max: CalculatorField = { name: 'max', label: 'common-max', mass: true, initial: '870' }
const d: CalculatorField = { name: 'd', label: 'calculators-division', mass: true, initial: '0.2' }
const as = (tool: string) => (typed: Typed) => ({ tool, ...typed }) as unknown as CalculatorQuestion

/** The tools of the desk: which figures each asks for. What they come to is the core's. */
export const tools: CalculatorTool[] = [
  {
    name: 'division',
    label: 'calculators-division',
    title: 'calculators-which-division-for-a-max',
    fields: [
      max,
      { ...d, optional: true },
      { name: 'n', label: 'calculators-or-the-divisions-wanted', optional: true },
    ],
    question: as('division'),
  },
  {
    name: 'digits',
    label: 'calculators-digits',
    title: 'calculators-which-digits-to-key-in',
    fields: [
      { name: 'value', label: 'calculators-weight-or-max', mass: true, initial: '7.5' },
      { name: 'decimals', label: 'common-decimals', initial: '3' },
      { name: 'width', label: 'calculators-digits-of-the-field', initial: '6' },
    ],
    question: as('digits'),
  },
  {
    name: 'signal',
    label: 'calculators-signal',
    title: 'calculators-what-signal-do-the-cells',
    fields: [
      max,
      d,
      { name: 'count', label: 'calculators-cells', initial: '4' },
      { name: 'e_max', label: 'calculators-capacity-of-each', mass: true, initial: '400' },
      { name: 'sensitivity', label: 'calculators-sensitivity-mv-v', initial: '2' },
      { name: 'excitation', label: 'calculators-excitation-v', initial: '5' },
      { name: 'dead_load', label: 'calculators-dead-load', mass: true, optional: true },
      { name: 'lever_ratio', label: 'calculators-lever-ratio', optional: true },
      { name: 'input_high', label: 'calculators-highest-input-mv', optional: true },
    ],
    question: as('signal'),
  },
  {
    name: 'gravity',
    label: 'calculators-gravity',
    title: 'calculators-what-does-another-place-cost',
    fields: [
      max,
      d,
      { name: 'class', label: 'common-class', initial: 'III' },
      { name: 'from', label: 'calculators-adjusted-at-latitude', initial: '57.9', at: 'adjusted_latitude' },
      { name: 'from_altitude', label: 'calculators-altitude-m', optional: true, at: 'adjusted_altitude' },
      { name: 'to', label: 'calculators-used-at-latitude', initial: '50.4', at: 'used_latitude' },
      { name: 'to_altitude', label: 'calculators-altitude-m', optional: true, at: 'used_altitude' },
    ],
    question: ({ from = '', from_altitude = '', to = '', to_altitude = '', ...rest }) =>
      ({
        tool: 'gravity',
        ...rest,
        adjusted: { latitude: from, altitude: from_altitude, g: '' },
        used: { latitude: to, altitude: to_altitude, g: '' },
      }) as unknown as CalculatorQuestion,
  },
  {
    name: 'factor',
    label: 'calculators-factor',
    title: 'calculators-which-correction-factor',
    fields: [
      { name: 'factor', label: 'calculators-old-factor', initial: '1.00000' },
      { name: 'load', label: 'common-load', mass: true, initial: '500' },
      { name: 'shown', label: 'calculators-shown', mass: true, initial: '498.5' },
      { name: 'shown_zero', label: 'calculators-shown-at-zero', mass: true, optional: true },
      { name: 'decimals', label: 'calculators-decimals-of-the-factor', initial: '5' },
      { name: 'n', label: 'calculators-divisions-n', optional: true },
    ],
    question: as('factor'),
  },
  {
    name: 'repeats',
    label: 'calculators-repeats',
    title: 'calculators-how-well-does-it-repeat',
    fields: [
      { name: 'shown', label: 'calculators-readings-of-one-load-with', initial: '600.0 600.2 600.0' },
      { name: 'mpe', label: 'calculators-tolerance-at-this-load', mass: true, initial: '0.6' },
      { name: 'class', label: 'common-class', initial: 'III' },
      { name: 'd', label: 'calculators-division-for-a-balance', mass: true, optional: true },
    ],
    question: as('repeats'),
  },
  {
    name: 'verdict',
    label: 'common-verdict',
    title: 'calculators-what-does-the-uncertainty-make',
    fields: [
      { name: 'error', label: 'common-error', mass: true, initial: '0.25' },
      { name: 'U', label: 'U', mass: true, initial: '0.1' },
      { name: 'k', label: 'k', initial: '2' },
      { name: 'mpe', label: 'common-tolerance', mass: true, initial: '0.3' },
      { name: 'rule', label: 'calculators-rule-simple-guarded-four-way', initial: 'four_way' },
    ],
    question: as('verdict'),
  },
  {
    name: 'trim',
    label: 'calculators-corners',
    title: 'calculators-how-are-the-corners-trimmed',
    fields: [
      { name: 'load', label: 'calculators-load-over-each-cell-in', mass: true, initial: '200' },
      { name: 'shown', label: 'calculators-shown-over-each-cell-with', initial: '200.4 199.8 200.0 200.2' },
      { name: 'shown_zero', label: 'calculators-shown-at-zero', mass: true, optional: true },
      { name: 'share', label: 'calculators-of-the-load-on-that', initial: '70' },
      { name: 'way', label: 'calculators-box-or-digital', initial: 'box' },
    ],
    question: ({ way = '', ...rest }) =>
      ({ tool: 'trim', ...rest, digital: way.trim().startsWith('d') }) as unknown as CalculatorQuestion,
  },
  {
    name: 'convert',
    label: 'calculators-units',
    title: 'calculators-another-unit',
    fields: [{ name: 'mass', label: 'calculators-mass', mass: true, initial: '1 lb' }],
    question: as('convert'),
  },
]
