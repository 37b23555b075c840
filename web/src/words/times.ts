import { useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'
import { language, number, region, t, type Sentence } from './say'

const now = ref(Date.now())

/** Keeps ages on the screen true; call once, in the shell. */
export const useAges = () => useIntervalFn(() => (now.value = Date.now()), 20_000)

export function age(moment: string): string {
  const minutes = Math.floor((now.value - Date.parse(moment)) / 60_000)
  if (minutes < -1) return t('times.inTheFuture')
  if (minutes < 1) return t('times.justNow')
  if (minutes < 60) return t('times.minutesAgo', { minutes: number(minutes) })
  if (minutes < 48 * 60) return t('times.hoursAgo', { hours: number(Math.floor(minutes / 60)) })
  return t('times.daysAgo', {}, Math.floor(minutes / 1440))
}

/** Clocks count to 24 in every language: a card's files are dated so. */
const of24 = (form: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat(language, { hourCycle: 'h23', ...form })

export const clock = (moment: string, timeZone: string): string =>
  of24({ timeZone, hour: '2-digit', minute: '2-digit' }).format(new Date(moment))

/** YYYY-MM-DD, as rolls and folders are dated: so that it sorts, in every language. */
const DATED = 'sv-SE'

export const dayAndClock = (moment: string, timeZone: string): string =>
  `${new Date(moment).toLocaleDateString(DATED, { timeZone })} ${clock(moment, timeZone)}`

/** A day as a heading, such as "Thursday 14 May 2026". */
export const dayInWords = (moment: string, timeZone: string): string =>
  new Date(moment).toLocaleDateString(region, {
    timeZone,
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  })

/** seconds since 1970-01-01 UTC */
export const clockToSecond = (seconds: number, timeZone: string): string =>
  of24({ timeZone, hour: '2-digit', minute: '2-digit', second: '2-digit' }).format(new Date(seconds * 1000))

/** A length in seconds as people say it; nothing for a picture. */
export function lasting(seconds: number): string {
  if (!seconds) return ''
  if (seconds < 10) return t('times.seconds', { seconds: decimal(seconds) })
  if (seconds < 60) return t('times.seconds', { seconds: number(Math.round(seconds)) })
  const whole = Math.round(seconds)
  return t('times.minutesSeconds', { minutes: number(Math.floor(whole / 60)), seconds: whole % 60 })
}

/** A length as hours, minutes and seconds, cut to the second, such as "1:02:05". */
export function longClock(seconds: number): string {
  const whole = Math.floor(seconds)
  const two = (count: number) => String(count % 60).padStart(2, '0')
  return `${Math.floor(whole / 3600)}:${two(Math.floor(whole / 60))}:${two(whole)}`
}

/** A length that is only estimated, as people say it. */
export function roughly(seconds: number): string {
  if (seconds < 10) return t('times.aFewSeconds')
  if (seconds < 90) return t('times.aboutSeconds', { seconds: Math.ceil(seconds / 5) * 5 })
  if (seconds < 5400) return t('times.aboutMinutes', { minutes: Math.round(seconds / 60) })
  return t('times.aboutHours', { hours: decimal(seconds / 3600) })
}

const decimal = (value: number): string =>
  new Intl.NumberFormat(language, { minimumFractionDigits: 1, maximumFractionDigits: 1 }).format(value)

/** A shoot day without its year, such as "Thu 14 May". day: as YYYY-MM-DD, which is no moment and has no zone */
export const shortDay = (day: string): string =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString(region, {
    timeZone: 'UTC',
    weekday: 'short',
    day: 'numeric',
    month: 'short',
  })

/** A moment to the second as it is typed, such as "2026-05-14 09:30:00". seconds: since 1970-01-01 UTC */
export const stamp = (seconds: number, timeZone: string): string =>
  new Date(seconds * 1000).toLocaleString(DATED, { timeZone })

/** What was typed so, as seconds on its own scale, to be compared with another; undefined where it is no time. */
export function secondsOf(text: string): number | undefined {
  const found = /^(\d{4})-(\d\d)-(\d\d) ([01]\d|2[0-3]):([0-5]\d):([0-5]\d)$/.exec(text.trim())
  const at = found ? Date.parse(`${text.trim().replace(' ', 'T')}Z`) : NaN
  return Number.isNaN(at) ? undefined : at / 1000
}

/** What was typed so, by clocks of that time zone, as seconds since 1970-01-01 UTC; undefined where it is no time. */
export function momentOf(text: string, timeZone: string): number | undefined {
  const typed = secondsOf(text)
  if (typed === undefined) return undefined
  // what clocks there show at a moment near it tells how far they are from UTC
  const off = (at: number) => (secondsOf(stamp(at, timeZone)) ?? at) - at
  return typed - off(typed - off(typed))
}

/** How far two times are apart, such as "2 d 3 h". seconds: whole */
export function apart(seconds: number): string {
  const parts: [number, Sentence][] = [
    [Math.floor(seconds / 86_400), 'times.days'],
    [Math.floor(seconds / 3600) % 24, 'times.hours'],
    [Math.floor(seconds / 60) % 60, 'times.minutes'],
    [seconds % 60, 'times.shortSeconds'],
  ]
  return parts
    .filter(([count]) => count)
    .map(([count, unit]) => t(unit, { count: number(count) }))
    .join(' ')
}
