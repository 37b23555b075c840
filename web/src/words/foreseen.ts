import type { Shapes } from '../api/client'
import { number, t, type Sentence } from './say'
import { shortDay } from './times'

type Foreseen = Shapes['ForeseenOut']

const days = (from: number, to: number): string =>
  Math.floor(from) === Math.floor(to)
    ? number(Math.floor(from))
    : `${number(Math.floor(from))}–${number(Math.floor(to))}`

const PARTS: Record<Foreseen['part'], Sentence> = {
  morning: 'foreseen.morning',
  afternoon: 'foreseen.afternoon',
  evening: 'foreseen.evening',
}

/** Days within which a part of the day says something. */
const SOON = 4

/** When a store will be full, such as "full about tomorrow afternoon". */
export function fullAbout(found: Foreseen): string {
  if (found.rolls_most === 0) return t('foreseen.noRoom')
  if (!found.expected || found.in_days === null)
    return t('foreseen.notBefore', { day: shortDay(found.earliest) })
  const part = t(PARTS[found.part])
  if (found.in_days === 0) return t('foreseen.today')
  if (found.in_days === 1) return t('foreseen.tomorrow', { part })
  if (found.in_days > SOON) return t('foreseen.onDay', { day: shortDay(found.expected) })
  return t('foreseen.on', { day: shortDay(found.expected), part })
}

/** The range that it lies in, in 8 of 10 cases; with what there is room for. */
export const rangeOf = (found: Foreseen): string =>
  t('foreseen.range', {
    earliest: shortDay(found.earliest),
    latest: found.latest ? shortDay(found.latest) : t('foreseen.farOff'),
    days: days(found.days_least, found.days_most),
    rolls: days(found.rolls_least, found.rolls_most),
  })
