import type { Shapes } from '../../api/client'
import { type Holding } from '../../marks/holding'

/** One clip of a card, a row of the columns the server sends. starts: seconds since 1970, length: seconds. */
export interface Clip {
  path: string
  name: string
  kind: string
  body: string
  starts: number
  length: number
  bytes: number
  files: number
  chapters: number
  holding: Holding
  roll: string
  odd: number
  preview: number
  words: string
}

export function clipsOf(columns: Shapes['ClipsOut']): Clip[] {
  return columns.paths.map((path, n) => ({
    path,
    name: columns.names[n] ?? '',
    kind: columns.kinds[n] ?? '',
    body: columns.bodies[n] ?? '',
    starts: columns.starts[n] ?? 0,
    length: columns.lengths[n] ?? 0,
    bytes: columns.bytes[n] ?? 0,
    files: columns.files[n] ?? 0,
    chapters: columns.chapters[n] ?? 1,
    holding: columns.holdings[n] ?? 'new',
    roll: columns.rolls[n] ?? '',
    odd: columns.odd[n] ?? -1,
    preview: columns.previews[n] ?? 0,
    words: columns.words[n] ?? '',
  }))
}

/** Where an arrow key, Home or End leads from a chosen clip, in rows of so many; undefined for any other key. */
export function clipAfter(
  event: KeyboardEvent,
  clips: readonly Clip[],
  chosen: string,
  across: number,
): number | undefined {
  const steps: Record<string, number> = {
    ArrowRight: 1,
    ArrowLeft: -1,
    ArrowDown: across,
    ArrowUp: -across,
    Home: -Infinity,
    End: Infinity,
  }
  const step = steps[event.key]
  if (step === undefined || event.ctrlKey || event.metaKey || event.altKey || !clips.length) return undefined
  const from = clips.findIndex((clip) => clip.path === chosen)
  const to = from < 0 && Number.isFinite(step) ? 0 : Math.max(0, from) + step
  return Math.min(clips.length - 1, Math.max(0, to))
}

/** Rows for the ribbon: one a body where several wrote the card, else the camera's letter. */
export function ribbonRows(clips: Clip[], camera: string) {
  const bodies = new Set(clips.map((clip) => clip.body).filter(Boolean))
  const rows = new Map<string, Clip[]>()
  for (const clip of clips) {
    const label = bodies.size > 1 ? shortened(clip.body || camera) : camera
    const row = rows.get(label)
    if (row) row.push(clip)
    else rows.set(label, [clip])
  }
  return [...rows].map(([label, members]) => ({
    label,
    clips: members.map(({ starts, length, holding, odd }) => ({
      start: starts,
      length,
      holding,
      odd: odd >= 0,
    })),
  }))
}

/** The last word of a body's name tells it from its maker's others. */
const shortened = (body: string) => body.split(' ').at(-1)?.slice(0, 9) ?? body
