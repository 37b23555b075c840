import type { Shapes } from '../api/client'
import { t } from '../words/say'

/** The states of a copy's mark: what the server judges, and the two of a run under way. Shape says it, colour repeats it. */
export type PlankState = Shapes['CopyState'] | 'writing' | 'reading'

export const PLANK_WORDS: Record<PlankState, string> = {
  wanted: t('plank.wantedNothingThereYet'),
  partial: t('plank.someOfItIsThere'),
  writing: t('plank.beingWritten'),
  reading: t('plank.beingReadBack'),
  verified: t('plank.wholeAgreesWithTheCard'),
  stale: t('plank.readTooLongAgo'),
  weak: t('plank.wholeButDoesNotCount'),
  broken: t('plank.damagedOrGoneFromIts'),
  lost: t('plank.lost'),
}

/** How far a run has come on one store, as shares of the whole. */
export interface PlankShares {
  written: number
  verified: number
}
