import { inject, type InjectionKey } from 'vue'
import type { Shapes } from '../api/client'

export const ME: InjectionKey<Shapes['Me']> = Symbol('who is signed in')

/** Who is signed in; inside the shell somebody always is. */
export function useWho() {
  const me = inject(ME)
  if (!me) throw new Error('used outside the shell')
  return { me, may: (act: string) => me.may.includes(act) }
}
