import type { DeskQuestion } from '../api/types'

type Typed = Record<string, string>
export interface DeskField {
  name: string
  label: string
  /** A mass: the unit is shown with it. */
  mass?: boolean
  optional?: boolean
  initial?: string
  /** The field's name in a refusal, where it differs. */
  at?: string
}
export interface DeskTool {
  name: string
  label: string
  title: string
  fields: DeskField[]
  question: (typed: Typed) => DeskQuestion
}

const max: DeskField = { name: 'max', label: 'Max', mass: true, initial: '870' }
const d: DeskField = { name: 'd', label: 'Division', mass: true, initial: '0.2' }
const as = (tool: string) => (typed: Typed) => ({ tool, ...typed }) as unknown as DeskQuestion

/** The tools of the desk: which figures each asks for. What they come to is the core's. */
export const tools: DeskTool[] = [
  {
    name: 'division',
    label: 'Division',
    title: 'Which division for a Max?',
    fields: [max, { ...d, optional: true }, { name: 'n', label: 'or the divisions wanted', optional: true }],
    question: as('division'),
  },
  {
    name: 'digits',
    label: 'Digits',
    title: 'Which digits to key in?',
    fields: [
      { name: 'value', label: 'Weight or Max', mass: true, initial: '7.5' },
      { name: 'decimals', label: 'Decimals', initial: '3' },
      { name: 'width', label: 'Digits of the field', initial: '6' },
    ],
    question: as('digits'),
  },
  {
    name: 'signal',
    label: 'Signal',
    title: 'What signal do the cells give?',
    fields: [
      max,
      d,
      { name: 'count', label: 'Cells', initial: '4' },
      { name: 'e_max', label: 'Capacity of each', mass: true, initial: '400' },
      { name: 'sensitivity', label: 'Sensitivity, mV/V', initial: '2' },
      { name: 'excitation', label: 'Excitation, V', initial: '5' },
      { name: 'dead_load', label: 'Dead load', mass: true, optional: true },
      { name: 'lever_ratio', label: 'Lever ratio', optional: true },
      { name: 'input_high', label: 'Highest input, mV', optional: true },
    ],
    question: as('signal'),
  },
  {
    name: 'gravity',
    label: 'Gravity',
    title: 'What does another place cost?',
    fields: [
      max,
      d,
      { name: 'class', label: 'Class', initial: 'III' },
      { name: 'from', label: 'Adjusted at latitude, °', initial: '57.9', at: 'adjusted_latitude' },
      { name: 'from_altitude', label: 'altitude, m', optional: true, at: 'adjusted_altitude' },
      { name: 'to', label: 'Used at latitude, °', initial: '50.4', at: 'used_latitude' },
      { name: 'to_altitude', label: 'altitude, m', optional: true, at: 'used_altitude' },
    ],
    question: ({ from = '', from_altitude = '', to = '', to_altitude = '', ...rest }) =>
      ({
        tool: 'gravity',
        ...rest,
        adjusted: { latitude: from, altitude: from_altitude, g: '' },
        used: { latitude: to, altitude: to_altitude, g: '' },
      }) as unknown as DeskQuestion,
  },
  {
    name: 'factor',
    label: 'Factor',
    title: 'Which correction factor?',
    fields: [
      { name: 'factor', label: 'Old factor', initial: '1.00000' },
      { name: 'load', label: 'Load', mass: true, initial: '500' },
      { name: 'shown', label: 'Shown', mass: true, initial: '498.5' },
      { name: 'shown_zero', label: 'Shown at zero', mass: true, optional: true },
      { name: 'decimals', label: 'Decimals of the factor', initial: '5' },
      { name: 'n', label: 'Divisions n', optional: true },
    ],
    question: as('factor'),
  },
  {
    name: 'repeats',
    label: 'Repeats',
    title: 'How well does it repeat?',
    fields: [
      { name: 'shown', label: 'Readings of one load, with spaces between', initial: '600.0 600.2 600.0' },
      { name: 'mpe', label: 'Tolerance at this load', mass: true, initial: '0.6' },
      { name: 'class', label: 'Class', initial: 'III' },
      { name: 'd', label: 'Division, for a balance', mass: true, optional: true },
    ],
    question: as('repeats'),
  },
  {
    name: 'verdict',
    label: 'Verdict',
    title: 'What does the uncertainty make of it?',
    fields: [
      { name: 'error', label: 'Error', mass: true, initial: '0.25' },
      { name: 'U', label: 'U', mass: true, initial: '0.1' },
      { name: 'k', label: 'k', initial: '2' },
      { name: 'mpe', label: 'Tolerance', mass: true, initial: '0.3' },
      { name: 'rule', label: 'Rule: simple, guarded, four_way', initial: 'four_way' },
    ],
    question: as('verdict'),
  },
  {
    name: 'trim',
    label: 'Corners',
    title: 'How are the corners trimmed?',
    fields: [
      { name: 'load', label: 'Load over each cell in turn', mass: true, initial: '200' },
      { name: 'shown', label: 'Shown over each cell, with spaces between', initial: '200.4 199.8 200.0 200.2' },
      { name: 'shown_zero', label: 'Shown at zero', mass: true, optional: true },
      { name: 'share', label: 'Of the load on that cell, %', initial: '70' },
      { name: 'way', label: 'box or digital', initial: 'box' },
    ],
    question: ({ way = '', ...rest }) =>
      ({ tool: 'trim', ...rest, digital: way.trim().startsWith('d') }) as unknown as DeskQuestion,
  },
  {
    name: 'convert',
    label: 'Units',
    title: 'Another unit',
    fields: [{ name: 'mass', label: 'Mass', mass: true, initial: '1 lb' }],
    question: as('convert'),
  },
]
