import { number, t } from '../words/say'
import { bytes } from '../words/units'

/** Hours of a day and a rate, as a person changes them. from, until: HH:MM; megabytes: a second, 0 for no limit */
export interface Pacing {
  always: boolean
  from: string
  until: string
  megabytes: number
}

export const unpaced = (): Pacing => ({ always: true, from: '22:00', until: '06:00', megabytes: 0 })

const minutes = (clock: string): number | undefined => {
  const found = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(clock.trim())
  return found ? Number(found[1]) * 60 + Number(found[2]) : undefined
}

/** As the server takes it; undefined while an hour is none. */
export function sent(pacing: Pacing): { begins: number; ends: number; rate: number | null } | undefined {
  const rate = pacing.megabytes ? pacing.megabytes * 1e6 : null
  if (pacing.always) return { begins: 0, ends: 0, rate }
  const [begins, ends] = [minutes(pacing.from), minutes(pacing.until)]
  return begins === undefined || ends === undefined ? undefined : { begins, ends, rate }
}

/** As it stands. begins, ends: minutes after midnight */
export function pacingOf(one: { begins: number; ends: number; rate: number | null }): Pacing {
  const clock = (at: number) => `${twoDigits(Math.floor(at / 60))}:${twoDigits(at % 60)}`
  const paced = unpaced()
  if (one.begins !== one.ends)
    Object.assign(paced, { always: false, from: clock(one.begins), until: clock(one.ends) })
  return { ...paced, megabytes: Math.round((one.rate ?? 0) / 1e6) }
}

const twoDigits = (count: number): string => number(count).padStart(2, '0')

/** Such as ", 22:00 to 06:00, at most 20 MB a second"; empty where nothing holds it. */
export const pacedWords = (hours: string, rate: number | null): string =>
  [hours, rate ? t('pacing.atMost', { bytes: bytes(rate) }) : '']
    .filter(Boolean)
    .map((words) => `, ${words}`)
    .join('')
