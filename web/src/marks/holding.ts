/** What is held of a clip, in the words people see. Shape says it; colour only repeats it. */
export const HOLDING_WORDS = {
  held: 'already held',
  new: 'new',
  changed: 'changed: its roll has another file of this name',
  left: 'left behind before',
  alike: "perhaps held: another camera's roll has one like it",
} as const

export type Holding = keyof typeof HOLDING_WORDS

const isHolding = (word: string): word is Holding => word in HOLDING_WORDS

/** A word this page does not know is shown as new: nothing is called held that may not be. */
export const holdingOf = (word: string): Holding => (isHolding(word) ? word : 'new')
