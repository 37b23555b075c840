import { useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'

const now = ref(Date.now())

/** Keeps ages on the screen true; call once, in the shell. */
export const useAges = () => useIntervalFn(() => (now.value = Date.now()), 20_000)

export function age(moment: string): string {
  const minutes = Math.floor((now.value - Date.parse(moment)) / 60_000)
  if (minutes < -1) return 'at a time in the future'
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  if (minutes < 48 * 60) return `${Math.floor(minutes / 60)} h ago`
  return `${Math.floor(minutes / 1440)} days ago`
}

export const clock = (moment: string, timeZone: string): string =>
  new Date(moment).toLocaleTimeString('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' })

export const dayAndClock = (moment: string, timeZone: string): string =>
  `${new Date(moment).toLocaleDateString('sv-SE', { timeZone })} ${clock(moment, timeZone)}`

/** A day as a heading, such as "Thursday 14 May 2026". */
export const dayInWords = (moment: string, timeZone: string): string =>
  new Date(moment).toLocaleDateString('en-GB', {
    timeZone,
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  })

/** seconds since 1970-01-01 UTC */
export const clockToSecond = (seconds: number, timeZone: string): string =>
  new Date(seconds * 1000).toLocaleTimeString('en-GB', { timeZone })

/** A length in seconds as people say it; nothing for a picture. */
export function lasting(seconds: number): string {
  if (!seconds) return ''
  if (seconds < 10) return `${seconds.toFixed(1)} s`
  if (seconds < 60) return `${Math.round(seconds)} s`
  return `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`
}

/** A length that is only estimated, as people say it. */
export function roughly(seconds: number): string {
  if (seconds < 10) return 'a few seconds'
  if (seconds < 90) return `about ${Math.ceil(seconds / 5) * 5} s`
  if (seconds < 5400) return `about ${Math.round(seconds / 60)} min`
  return `about ${(seconds / 3600).toFixed(1)} h`
}

/** A shoot day without its year, such as "Thu 14 May". day: as YYYY-MM-DD, which is no moment and has no zone */
export const shortDay = (day: string): string =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString('en-GB', {
    timeZone: 'UTC',
    weekday: 'short',
    day: 'numeric',
    month: 'short',
  })

/** A moment to the second as it is typed, such as "2026-05-14 09:30:00". seconds: since 1970-01-01 UTC */
export const stamp = (seconds: number, timeZone: string): string =>
  new Date(seconds * 1000).toLocaleString('sv-SE', { timeZone })

/** What was typed so, as seconds on its own scale, to be compared with another; undefined where it is no time. */
export function secondsOf(text: string): number | undefined {
  const found = /^(\d{4})-(\d\d)-(\d\d) ([01]\d|2[0-3]):([0-5]\d):([0-5]\d)$/.exec(text.trim())
  const at = found ? Date.parse(`${text.trim().replace(' ', 'T')}Z`) : NaN
  return Number.isNaN(at) ? undefined : at / 1000
}
