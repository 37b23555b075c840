import type { Shapes } from '../api/client'
import { t } from './say'

/** The words in large letters, each once. */
export const WORDS = {
  clear: t('verdicts.clear'),
  empty: t('verdicts.empty'),
  sign: t('verdicts.sign'),
  wait: t('verdicts.wait'),
  out: t('verdicts.out'),
  readIt: t('verdicts.readIt'),
  filesGone: t('verdicts.filesGone'),
  notClear: t('verdicts.notClear'),
  pulled: t('verdicts.pulled'),
  keep: t('verdicts.keep'),
  finals: t('verdicts.finals'),
  package: t('verdicts.package'),
} as const

/** What a card's standing comes to, in letters that can be read from two metres; the same on every screen. */
export const VERDICTS: Record<Shapes['CardStanding'], string> = {
  cleared: WORDS.clear,
  empty: WORDS.empty,
  'ready to sign': WORDS.sign,
  'waiting for a signature': WORDS.sign,
  'being offloaded': WORDS.wait,
  'handed back': WORDS.out,
  'not read since': WORDS.readIt,
  'never read': WORDS.readIt,
  'files gone': WORDS.filesGone,
  'not offloaded': WORDS.notClear,
  'not clear': WORDS.notClear,
  'out of use': WORDS.keep,
  'set of finals': WORDS.finals,
  package: WORDS.package,
}

/** Whether something speaks against the card's reuse. */
export const speaksAgainst = (verdict: string): boolean =>
  [WORDS.notClear, WORDS.filesGone, WORDS.pulled, WORDS.keep].includes(verdict)

/** Whether it says that the card may go back to a camera. */
export const saysGo = (verdict: string): boolean => [WORDS.clear, WORDS.empty].includes(verdict)
