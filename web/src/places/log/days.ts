import type { Shapes } from '../../api/client'
import { clock, dayInWords } from '../../words/times'
import { t } from '../../words/say'
import { type Countable } from '../../words/units'

type Entry = Shapes['LogEntry']

/** What is read as one where it happened several times, one after the other, as what it is counted; else undefined. */
export function foldedAs(entry: Entry | undefined): Countable | undefined {
  if (entry?.kind === 'moves') return 'comingOrGoing'
  return entry?.act === 'sign in' || entry?.act === 'sign out' ? 'signingIn' : undefined
}

/** An entry, or several of a kind that is folded. */
export interface Line {
  id: number
  entries: readonly Entry[]
}

export interface Day {
  name: string
  lines: readonly Line[]
}

/** Entries as they stand, newest first, under their days. folded: whether those that are read as one are put together */
export function byDay(entries: readonly Entry[], timeZone: string, folded: boolean): Day[] {
  const days: { name: string; lines: { id: number; entries: Entry[] }[] }[] = []
  for (const entry of entries) {
    const name = dayInWords(entry.at, timeZone)
    let day = days.at(-1)
    if (day?.name !== name) days.push((day = { name, lines: [] }))
    const line = day.lines.at(-1)
    const one = foldedAs(entry)
    if (folded && line && one && foldedAs(line.entries[0]) === one) line.entries.push(entry)
    else day.lines.push({ id: entry.id, entries: [entry] })
  }
  return days
}

/** From the oldest to the newest. */
export function timesOf(line: Line, timeZone: string): string {
  const [last, first] = [line.entries[0], line.entries.at(-1)].map((one) => clock(one?.at ?? '', timeZone))
  return first === last ? `${first}` : t('times.fromTo', { from: first ?? '', to: last ?? '' })
}

/** Whom or what these are about, each once, oldest first. */
export const subjectsOf = (line: Line): string =>
  [...new Set(line.entries.map((entry) => entry.subject))].reverse().join(', ')
