/** The states of a copy's mark. Shape and pattern say it; colour only repeats it. */
export const PLANK_WORDS = {
  wanted: 'wanted, nothing there yet',
  writing: 'being written',
  reading: 'being read back',
  verified: 'whole, agrees with the card',
  stale: 'checked too long ago',
  weak: 'whole, but does not count',
  broken: 'broken or incomplete',
  lost: 'lost',
} as const

export type PlankState = keyof typeof PLANK_WORDS

export const isPlankState = (word: string): word is PlankState => word in PLANK_WORDS
export const plankState = (word: string): PlankState => (isPlankState(word) ? word : 'broken')

/** How far a run has come on one store, as shares of the whole. */
export interface PlankShares {
  written: number
  verified: number
}
