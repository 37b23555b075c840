import { shallowRef } from 'vue'

/** Who acts at a shared screen, by their PIN. */
export interface Acting {
  username: string
  pin: string
}
interface Question {
  /** What was wrong with the last answer; empty at first. */
  refused: string
  answer: (acting: Acting | undefined) => void
}

/** While a shared screen waits to be told who acts. */
export const asking = shallowRef<Question>()

/** Ask who acts; undefined where nobody says. */
export function askWho(refused: string): Promise<Acting | undefined> {
  return new Promise((tell) => {
    asking.value = {
      refused,
      answer: (acting) => {
        asking.value = undefined
        tell(acting)
      },
    }
  })
}
