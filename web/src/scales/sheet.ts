import { v7 as uuidv7 } from 'uuid'
import type { HouseTyping } from '../ui/HouseFields.vue'
import type { ProfileRow, ScaleDetail, ScaleForm, Site } from '../api/types'

/** A scale's sheet as it is typed: text throughout; what it means is the core's to say. */
export const emptySheet = () => ({
  id: uuidv7(),
  name: '',
  owner: '',
  owner_address: '',
  place: '',
  kind: 'floor' as ScaleForm['kind'],
  serial: '',
  indicator: '',
  made: '',
  unit: 'kg' as ScaleForm['unit'],
  plate_max: '',
  plate_d: '',
  mode: 'single' as NonNullable<ScaleForm['mode']>,
  fine_max: '',
  fine_d: '',
  switch: '' as '' | 'yes' | 'no',
  working_load: '',
  decision: 'simple' as NonNullable<ScaleForm['decision']>,
  trade: false,
  scheme: 'r76_in_service' as ScaleForm['tolerance']['scheme'],
  class: 'III' as NonNullable<ScaleForm['tolerance']['class']>,
  house: { divisions: '', percent_of_load: '', percent_of_max: '', mass: '', pick: 'largest' } as HouseTyping,
  ask_corners: true,
  ask_discrimination: false,
  ask_zero: false,
  repeats: '0',
  months: '12',
  width: '6',
  site: '',
  profile: '',
  pads: '1',
  seal_points: '',
  wiring: '',
  cell_count: '',
  cell_e_max: '',
  cell_sensitivity: '',
  cell_v_min: '',
  cell_y: '',
  cell_n_lc: '',
  cell_dr: '',
  cell_z: '',
  excitation: '',
  lever_ratio: '',
  dead_load: '',
  stays_on_what: '',
  stays_on: '',
  reserve: '',
  smallest_uv: '',
  input_low: '',
  input_high: '',
  span_counts: '',
  max_divisions: '',
  connected: false,
  address: '',
  pattern: '',
  steady: 'steady',
  version: 0,
})
export type SheetTyping = ReturnType<typeof emptySheet>

/** Fields that show their own refusal. */
export const sheetFields = [
  ...Object.keys(emptySheet()),
  'interval_months',
  'field_width',
  'tolerance',
  'house_divisions',
  'house_percent_of_load',
  'house_percent_of_max',
  'house_mass',
]

const mass = (m?: { value: string; unit: string } | null): string => (m ? `${m.value} ${m.unit}` : '')
const text = (value: unknown): string => (value === null || value === undefined ? '' : String(value))
const whole = (typed: string): number => (/^\d{1,3}$/.test(typed.trim()) ? Math.min(Number(typed), 255) : 0)

type Sheet = ScaleDetail['sheet']

/** What it is and whose, its plate, and how it is judged. */
function plateFrom(sheet: Sheet) {
  return {
    id: sheet.id,
    name: sheet.name,
    owner: sheet.owner,
    owner_address: sheet.owner_address ?? '',
    place: sheet.place,
    kind: sheet.kind,
    serial: sheet.serial,
    indicator: sheet.indicator,
    made: text(sheet.made),
    unit: sheet.plate?.d_min.unit ?? sheet.build?.cells?.e_max.unit ?? 'kg',
    plate_max: mass(sheet.plate?.max),
    plate_d: mass(sheet.plate?.d_min),
    mode: sheet.fine?.mode ?? 'single',
    fine_max: mass(sheet.fine?.range.max),
    fine_d: mass(sheet.fine?.range.d),
    switch: switches(sheet.calibration_switch),
    working_load: mass(sheet.working_load),
    trade: sheet.trade,
    months: String(sheet.interval_months),
    width: String(sheet.field_width),
    site: sheet.site?.name ?? '',
    profile: sheet.profile?.id ?? '',
    pads: String(sheet.pads ?? 1),
    seal_points: (sheet.seal_points ?? []).join('\n'),
    wiring: (sheet.wiring ?? []).join('\n'),
  }
}

const switches = (there: boolean | null | undefined): SheetTyping['switch'] =>
  there === true ? 'yes' : there === false ? 'no' : ''

function judgedFrom(sheet: Sheet) {
  const { house, scheme, class: by } = sheet.tolerance
  return {
    decision: sheet.decision ?? 'simple',
    scheme,
    class: by ?? 'III',
    house: {
      divisions: text(house?.divisions),
      percent_of_load: text(house?.percent_of_load),
      percent_of_max: text(house?.percent_of_max),
      mass: mass(house?.mass),
      pick: house?.pick ?? 'largest',
    },
    ask_corners: sheet.house_tests?.corners ?? true,
    ask_discrimination: sheet.house_tests?.discrimination ?? false,
    ask_zero: sheet.house_tests?.zero_return ?? false,
    repeats: text(sheet.house_tests?.repeats ?? 0),
  }
}

/** Cells, dead load and the indicator's input. */
function builtFrom(sheet: Sheet) {
  const { cells, indicator, stays_on, ...build } = sheet.build ?? {}
  return {
    cell_count: text(cells?.count),
    cell_e_max: mass(cells?.e_max),
    cell_sensitivity: text(cells?.sensitivity_mV_V),
    cell_v_min: mass(cells?.v_min),
    cell_y: text(cells?.y),
    cell_n_lc: text(cells?.n_lc),
    cell_dr: mass(cells?.dr),
    cell_z: text(cells?.z),
    excitation: text(build.excitation_V),
    lever_ratio: text(build.lever_ratio),
    dead_load: mass(build.dead_load),
    stays_on_what: stays_on?.what ?? '',
    stays_on: mass(stays_on?.mass),
    reserve: text(build.reserve),
    smallest_uv: text(indicator?.smallest_uV),
    input_low: text(indicator?.input_mV?.[0]),
    input_high: text(indicator?.input_mV?.[1]),
    span_counts: text(indicator?.span_counts),
    max_divisions: text(indicator?.max_divisions),
  }
}

/** A known sheet as it is typed. `pattern`: the line pattern where the scale has none of its own. */
export function typedFrom({ sheet, device, version }: ScaleDetail, pattern: string): SheetTyping {
  return {
    ...emptySheet(),
    ...plateFrom(sheet),
    ...judgedFrom(sheet),
    ...builtFrom(sheet),
    connected: Boolean(device),
    address: device?.address ?? '',
    pattern: device?.pattern?.pattern ?? pattern,
    steady: device?.pattern?.steady ?? 'steady',
    version,
  }
}

function tolerance(typed: SheetTyping, found: ScaleDetail | undefined): ScaleForm['tolerance'] {
  // A house rule or table that has more than this page edits is kept as it was.
  if (typed.scheme === 'table' && found?.sheet.tolerance.scheme === 'table') return found.sheet.tolerance
  if (typed.scheme !== 'house') return { scheme: typed.scheme, class: typed.class }
  return { scheme: 'house' }
}

export function toForm(
  typed: SheetTyping,
  found: ScaleDetail | undefined,
  sites: Site[],
  profiles: ProfileRow[],
): ScaleForm {
  const {
    months,
    width,
    pads,
    connected,
    address,
    pattern,
    steady,
    site,
    profile,
    ask_corners,
    ask_discrimination,
    ask_zero,
    repeats,
    house,
    switch: hasSwitch,
    ...rest
  } = typed
  const keyed = profiles.find((p) => p.id === profile)
  const named = sites.find((s) => s.name === site) ?? (found?.sheet.site?.name === site ? found?.sheet.site : null)
  return {
    ...rest,
    house_tests:
      typed.scheme === 'house'
        ? { corners: ask_corners, discrimination: ask_discrimination, zero_return: ask_zero, repeats: whole(repeats) }
        : null,
    tolerance: tolerance(typed, found),
    house: typed.scheme === 'house' ? house : null,
    calibration_switch: hasSwitch === '' ? null : hasSwitch === 'yes',
    interval_months: whole(months),
    field_width: whole(width),
    pads: whole(pads),
    site: named ?? null,
    profile: keyed ? { id: keyed.id, name: keyed.name } : null,
    device: connected ? { address: address.trim(), pattern: { pattern, steady, unit: typed.unit } } : null,
  }
}
