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

/** Who does what takes several requests, by the address that they all have. */
const doing = new Map<string, Acting | undefined>()

/**
 * One act that takes several requests to one address, such as signing, which is asked for until all was looked at: who
 * does it is asked once, and forgotten when it is over.
 */
export async function asOneAct<T>(path: string, act: () => Promise<T>): Promise<T> {
  doing.set(path, undefined)
  try {
    return await act()
  } finally {
    doing.delete(path)
  }
}

/** Who said already that they do this; undefined where nobody has. */
export const alreadySaid = (address: string) => doing.get(new URL(address).pathname)

/** Whoever was let in goes on with what they do. */
export function wasLetIn(address: string, acting: Acting) {
  const path = new URL(address).pathname
  if (doing.has(path)) doing.set(path, acting)
}

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
