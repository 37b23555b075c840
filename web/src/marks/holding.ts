import type { Shapes } from '../api/client'
import { t } from '../words/say'

export type Holding = Shapes['Holding']

/** What is held of a clip, in the words people see. Shape says it; colour only repeats it. */
export const HOLDING_WORDS: Record<Holding, string> = {
  held: t('holding.alreadyHeld'),
  new: t('holding.new'),
  changed: t('holding.changedItsRollHasAnother'),
  left: t('holding.leftBehindBefore'),
  alike: t('holding.perhapsHeldAnotherRollHas'),
  unsure: t('holding.beingComparedWithWhatWas'),
}

/** The same in a word or two, for a row or a button. */
export const HOLDING_BRIEF: Record<Holding, string> = {
  held: t('holding.alreadyHeld'),
  new: t('holding.new'),
  changed: t('holding.changed'),
  left: t('holding.leftBehindBefore'),
  alike: t('holding.perhapsHeld'),
  unsure: t('holding.beingCompared'),
}
