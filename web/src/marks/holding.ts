import type { Shapes } from '../api/client'

export type Holding = Shapes['Holding']

/** What is held of a clip, in the words people see. Shape says it; colour only repeats it. */
export const HOLDING_WORDS: Record<Holding, string> = {
  held: 'already held',
  new: 'new',
  changed: 'changed: its roll has another file of this name',
  left: 'left behind before',
  alike: 'perhaps held: another roll has one like it',
  unsure: 'being compared with what was copied',
}
