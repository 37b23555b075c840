import type { Shapes } from '../api/client'

/** What a card's standing comes to, in letters that can be read from two metres; the same on every screen. */
export const VERDICTS: Record<Shapes['CardStanding'], string> = {
  cleared: 'CLEAR',
  empty: 'EMPTY',
  'ready to sign': 'SIGN?',
  'waiting for a signature': 'SIGN?',
  'being offloaded': 'WAIT',
  'handed back': 'OUT',
  'not read since': 'READ IT',
  'never read': 'READ IT',
  'files gone': 'FILES GONE',
  'not offloaded': 'NOT CLEAR',
  'not clear': 'NOT CLEAR',
}

/** Whether something speaks against the card's reuse. */
export const speaksAgainst = (verdict: string): boolean =>
  ['NOT CLEAR', 'FILES GONE', 'PULLED'].includes(verdict)

/** Whether it says that the card may go back to a camera. */
export const saysGo = (verdict: string): boolean => ['CLEAR', 'EMPTY'].includes(verdict)
