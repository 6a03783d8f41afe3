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
  { name: 'division', label: 'Division', title: 'Which division for a Max?', fields: [max, { ...d, optional: true }], question: as('division') },
  {
    name: 'digits', label: 'Digits', title: 'Which digits to key in?',
    fields: [{ name: 'value', label: 'Weight or Max', mass: true, initial: '7.5' }, { name: 'decimals', label: 'Decimals', initial: '3' }, { name: 'width', label: 'Digits of the field', initial: '6' }],
    question: as('digits'),
  },
  {
    name: 'signal', label: 'Signal', title: 'What signal do the cells give?',
    fields: [max, d, { name: 'count', label: 'Cells', initial: '4' }, { name: 'e_max', label: 'Capacity of each', mass: true, initial: '400' }, { name: 'sensitivity', label: 'Sensitivity, mV/V', initial: '2' }, { name: 'excitation', label: 'Excitation, V', initial: '5' },
      { name: 'dead_load', label: 'Dead load', mass: true, optional: true }, { name: 'lever_ratio', label: 'Lever ratio', optional: true }, { name: 'input_high', label: 'Highest input, mV', optional: true }],
    question: as('signal'),
  },
  {
    name: 'gravity', label: 'Gravity', title: 'What does another place cost?',
    fields: [max, d, { name: 'class', label: 'Class', initial: 'III' },
      { name: 'from', label: 'Adjusted at latitude, °', initial: '57.9', at: 'adjusted_latitude' }, { name: 'from_altitude', label: 'altitude, m', optional: true, at: 'adjusted_altitude' },
      { name: 'to', label: 'Used at latitude, °', initial: '50.4', at: 'used_latitude' }, { name: 'to_altitude', label: 'altitude, m', optional: true, at: 'used_altitude' }],
    question: ({ from = '', from_altitude = '', to = '', to_altitude = '', ...rest }) =>
      ({ tool: 'gravity', ...rest, adjusted: { latitude: from, altitude: from_altitude, g: '' }, used: { latitude: to, altitude: to_altitude, g: '' } }) as unknown as DeskQuestion,
  },
  {
    name: 'factor', label: 'Factor', title: 'Which correction factor?',
    fields: [{ name: 'factor', label: 'Old factor', initial: '1.00000' }, { name: 'load', label: 'Load', mass: true, initial: '500' }, { name: 'shown', label: 'Shown', mass: true, initial: '498.5' }, { name: 'shown_zero', label: 'Shown at zero', mass: true, optional: true }, { name: 'decimals', label: 'Decimals of the factor', initial: '5' }, { name: 'n', label: 'Divisions n', optional: true }],
    question: as('factor'),
  },
  { name: 'convert', label: 'Units', title: 'Another unit', fields: [{ name: 'mass', label: 'Mass', mass: true, initial: '1 lb' }], question: as('convert') },
]
