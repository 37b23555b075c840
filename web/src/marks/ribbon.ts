/** Time laid out in a row: stretches of work side by side, the empty hours between them cut out. All times in seconds. */

import type { Holding } from './holding'

export interface RibbonClip {
  start: number
  length: number
  holding: Holding
  odd: boolean
}

export interface Stretch {
  from: number
  to: number
  x: number
  width: number
}

export interface RibbonBar {
  x: number
  width: number
  holding: Holding
  odd: boolean
  count: number
  start: number
}

const LONGEST_PAUSE = 2 * 3600
const TEAR = 22
const LEAST_STRETCH = 60

/** Stretches of work over a width in pixels; a pause of two hours or more is a tear. */
export function stretches(clips: readonly RibbonClip[], width: number): Stretch[] {
  const found: { from: number; to: number }[] = []
  for (const clip of [...clips].sort((a, b) => a.start - b.start)) {
    const last = found.at(-1)
    const end = clip.start + clip.length
    if (last && clip.start - last.to < LONGEST_PAUSE) last.to = Math.max(last.to, end)
    else found.push({ from: clip.start, to: end })
  }
  const least = Math.min(90, width / Math.max(1, found.length) / 2)
  const room = width - TEAR * (found.length - 1) - least * found.length
  const lasting = found.map((one) => Math.max(LEAST_STRETCH, one.to - one.from))
  const whole = lasting.reduce((sum, one) => sum + one, 0)
  let x = 0
  return found.map((one, n) => {
    const wide = least + (room * (lasting[n] ?? 0)) / whole
    const stretch = { ...one, x, width: wide }
    x += wide + TEAR
    return stretch
  })
}

/** Where a moment lies, in pixels. */
export function place(moment: number, on: readonly Stretch[]): number {
  const stretch = on.find((one) => moment <= one.to) ?? on.at(-1)
  if (!stretch) return 0
  const share = (moment - stretch.from) / Math.max(LEAST_STRETCH, stretch.to - stretch.from)
  return stretch.x + Math.min(1, Math.max(0, share)) * (stretch.width - 6)
}

/** Bars for clips in order of time. Neighbours that would touch and look the same are one bar. */
export function bars(clips: readonly RibbonClip[], on: readonly Stretch[]): RibbonBar[] {
  const found: RibbonBar[] = []
  for (const clip of clips) {
    const x = place(clip.start, on)
    const width = Math.max(4, place(clip.start + clip.length, on) - x)
    const last = found.at(-1)
    if (last && last.holding === clip.holding && last.odd === clip.odd && x - (last.x + last.width) < 1.5) {
      last.width = Math.max(last.width, x + width - last.x)
      last.count += 1
    } else {
      found.push({ x, width, holding: clip.holding, odd: clip.odd, count: 1, start: clip.start })
    }
  }
  return found
}

/** The moment that lies at so many pixels: the other way round. */
export function momentAt(x: number, on: readonly Stretch[]): number {
  const stretch = on.find((one) => x <= one.x + one.width) ?? on.at(-1)
  if (!stretch) return 0
  const share = Math.min(1, Math.max(0, (x - stretch.x) / Math.max(1, stretch.width - 6)))
  return stretch.from + share * Math.max(LEAST_STRETCH, stretch.to - stretch.from)
}
