import type { PlannedStep } from '../api/types'

/** A load of the plan, as the reading field takes it over. */
export interface Planned {
  load: string
  why: string
  pieces: PlannedStep['on']
}
