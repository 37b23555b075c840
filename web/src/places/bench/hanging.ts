import type { Clip } from './clips'

/** A row of the sheet: the heading of a stretch of shooting, or some pictures of it. */
export interface Hung {
  pause: { from: number; until: number; clips: number } | undefined
  clips: readonly Clip[]
}

/** So many seconds without a clip part two stretches of shooting. */
const PAUSE_S = 10 * 60

/** Clips in their order, parted where the shooting paused, in rows of so many. */
export function hung(clips: readonly Clip[], across: number): Hung[] {
  const rows: Hung[] = []
  for (const stretch of stretches(clips)) {
    const until = Math.max(...stretch.map((clip) => clip.starts + clip.length))
    rows.push({ pause: { from: stretch[0]?.starts ?? 0, until, clips: stretch.length }, clips: [] })
    for (let at = 0; at < stretch.length; at += across)
      rows.push({ pause: undefined, clips: stretch.slice(at, at + across) })
  }
  return rows
}

function stretches(clips: readonly Clip[]): Clip[][] {
  const found: Clip[][] = []
  let until = -Infinity
  for (const clip of clips) {
    const last = found.at(-1)
    if (last && Math.abs(clip.starts - until) <= PAUSE_S) last.push(clip)
    else found.push([clip])
    until = clip.starts + clip.length
  }
  return found
}
