import type { Shapes } from '../api/client'

/** The states of a copy's mark: what the server judges, and the two of a run under way. Shape says it, colour repeats it. */
export type PlankState = Shapes['CopyState'] | 'writing' | 'reading'

export const PLANK_WORDS: Record<PlankState, string> = {
  wanted: 'wanted, nothing there yet',
  partial: 'some of it is there, and agrees',
  writing: 'being written',
  reading: 'being read back',
  verified: 'whole, agrees with the card',
  stale: 'read too long ago',
  weak: 'whole, but does not count',
  broken: 'damaged, or gone from its place',
  lost: 'lost',
}

/** How far a run has come on one store, as shares of the whole. */
export interface PlankShares {
  written: number
  verified: number
}
