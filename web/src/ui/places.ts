// The places of the program: which stand in the bar, and which of them a phone has below.
export interface Place {
  name: string
  says: string
  /** On a job nobody needs the way there; a phone has it under More. */
  seldom?: boolean
  /** On a wide screen the way there stands on the pages that lead to it. */
  elsewhere?: boolean
  /** One of the four of a phone. */
  below?: boolean
}

export const PLACES: Place[] = [
  { name: 'home', says: 'common-scales', below: true },
  { name: 'customers', says: 'common-customers', seldom: true },
  { name: 'records', says: 'common-records', seldom: true },
  { name: 'weights', says: 'common-weights', below: true },
  { name: 'due', says: 'common-due', below: true },
  { name: 'route', says: 'app-bar-day', below: true },
  { name: 'along', says: 'app-bar-along', elsewhere: true },
  { name: 'profiles', says: 'common-profiles', seldom: true },
  { name: 'calculators', says: 'router-desk' },
  { name: 'practice', says: 'common-practice', seldom: true },
  { name: 'settings', says: 'common-settings' },
]
