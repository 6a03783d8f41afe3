import type { ErrorChartData } from '../api/types'

export interface Frame {
  width: number
  height: number
  left: number
  right: number
  top: number
  bottom: number
}

export interface Mark {
  key: string
  x: number
  y: number
  within: boolean
  down: boolean
  /** The error lies beyond the drawing: the mark stands at its edge. */
  beyond: boolean
  says: string
  /** The whisker of U, from top to bottom; none where it is not known. */
  whisker: string
}

export interface Geometry {
  outline: string
  zero: number
  found: Mark[]
  left: Mark[]
  ties: string
  loads: { x: number; text: string }[]
  errors: { y: number; text: string }[]
}

/** Errors up to this many times the largest tolerance are drawn to scale. */
const REACH = 4

function plain(value: number): string {
  return String(Number(value.toPrecision(6)))
}

export function chartGeometry(chart: ErrorChartData, frame: Frame): Geometry {
  const widest = Math.max(...chart.steps.map((s) => Math.max(s.mpe_from, s.mpe_to)), chart.d / 2)
  const worst = Math.max(0, ...[...chart.found, ...chart.left].map((p) => Math.abs(p.error)))
  const reach = Math.min(Math.max(widest * 1.5, worst * 1.15), widest * REACH)
  const middle = (frame.top + frame.height - frame.bottom) / 2
  const x = (load: number) => frame.left + (load / chart.max) * (frame.width - frame.left - frame.right)
  const y = (error: number) => middle - (error / reach) * (middle - frame.top)
  const r = (n: number) => Math.round(n * 100) / 100

  const above = chart.steps.map((s) => `L${r(x(s.from))} ${r(y(s.mpe_from))}L${r(x(s.to))} ${r(y(s.mpe_to))}`).join('')
  const below = [...chart.steps]
    .reverse()
    .map((s) => `L${r(x(s.to))} ${r(y(-s.mpe_to))}L${r(x(s.from))} ${r(y(-s.mpe_from))}`)
    .join('')
  const outline = chart.steps.length ? `M${above.slice(1)}${below}Z` : ''

  const mark = (p: ErrorChartData['found'][number]): Mark => {
    const inside = Math.max(-reach, Math.min(reach, p.error))
    const reachOf = (error: number) => r(y(Math.max(-reach, Math.min(reach, error))))
    const at = r(x(Math.min(p.load, chart.max)))
    const whisker =
      p.u === null
        ? ''
        : `M${at} ${reachOf(p.error + p.u)}V${reachOf(p.error - p.u)}m-4 0h8M${at - 4} ${reachOf(p.error + p.u)}h8`
    return {
      whisker,
      key: p.entry,
      x: r(x(Math.min(p.load, chart.max))),
      y: r(y(inside)),
      within: p.within,
      down: p.down,
      beyond: inside !== p.error,
      says: String(p.says),
    }
  }
  const found = chart.found.map(mark)
  const left = chart.left.map(mark)
  const near = (chart.max / (frame.width || 1)) * 6
  const ties = chart.found
    .map((f, i) => {
      const to = chart.left.findIndex((l) => !l.down && Math.abs(l.load - f.load) <= near)
      const from = found[i]
      const end = left[to]
      return from && end && Math.abs(from.y - end.y) > 2 ? `M${from.x} ${from.y}L${end.x} ${end.y}` : ''
    })
    .join('')

  const lastStep = chart.steps[chart.steps.length - 1]
  const ends = chart.steps.map((s) => s.to).filter((to) => to < chart.max * 0.93 && to > chart.max * 0.08)
  const shown = chart.steps.length <= 6 ? ends : []
  const loads = [0, ...shown, chart.max].map((load) => ({ x: r(x(load)), text: plain(load) }))
  const errors = lastStep
    ? [lastStep.mpe_to, -lastStep.mpe_to].map((e) => ({ y: r(y(e)), text: (e > 0 ? '+' : '−') + plain(Math.abs(e)) }))
    : []
  return { outline, zero: r(y(0)), found, left, ties, loads, errors }
}
