import { inject, type InjectionKey } from 'vue'
import type { Shapes } from '../api/client'
import { HERE } from '../api/here'
import { t, type Catalogue } from '../words/say'

export const ME: InjectionKey<Shapes['Me']> = Symbol('who is signed in')
type Act = keyof Catalogue['may']

/** Who is signed in; inside the shell somebody always is. */
export function useWho() {
  const me = inject(ME)
  if (!me) throw new Error('used outside the shell')
  const here = standingHere(me)
  const may = (act: Act) => here?.may.includes(act) ?? false
  /** What keeps this person from an act, in a sentence; undefined where nothing does. */
  const whyNot = (act: Act): string | undefined =>
    may(act) ? undefined : t('me.roleMayNot', { role: here?.role ?? '', act: t(`may.${act}`) })
  return { me, may, whyNot }
}

/** What somebody is in the production of this page, and what they may do there. */
export const standingHere = (me: Shapes['Me']) => me.productions.find((one) => one.slug === HERE)

/** Of an act that asks for a reason: that there is none yet. */
export const sayWhy = (reason: string): string | undefined => (reason.trim() ? undefined : t('me.sayWhy'))
