const WORDS = /^(\d\d):(\d\d):(\d\d)([:;])(\d\d)$/

/**
 * What stands on the frame that is shown so many seconds after a recording's first, as SMPTE counts: at 29.97 and 59.94
 * with a semicolon, the first numbers of every minute but each tenth are left out. Empty where that is not known.
 */
export function timecodeAfter(start: string, rate: string, seconds: number): string {
  const [over = 0, under = 1] = rate.split('/').map(Number)
  const found = WORDS.exec(start)
  const perSecond = over / under
  const frames = Math.round(perSecond)
  if (!found || !Number.isFinite(perSecond) || frames <= 0) return ''
  const dropped = found[4] === ';' ? 2 * Math.round(frames / 30) : 0
  const [hours = 0, minutes = 0, second = 0, frame = 0] = [1, 2, 3, 5].map((n) => Number(found[n]))
  const inMinutes = 60 * hours + minutes
  const first =
    (60 * inMinutes + second) * frames + frame - dropped * (inMinutes - Math.floor(inMinutes / 10))
  return written(first + Math.floor(seconds * perSecond + 0.02), frames, dropped)
}

function written(number: number, frames: number, dropped: number): string {
  const minute = 60 * frames - dropped
  const ten = 10 * minute + dropped
  const rest = number % ten
  const skipped =
    9 * dropped * Math.floor(number / ten) +
    (dropped && rest >= 60 * frames ? dropped * (1 + Math.floor((rest - 60 * frames) / minute)) : 0)
  const all = number + skipped
  const seconds = Math.floor(all / frames)
  const two = (value: number) => String(value).padStart(2, '0')
  return `${two(Math.floor(seconds / 3600) % 24)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${dropped ? ';' : ':'}${two(all % frames)}`
}

/** Seconds of one frame; a twenty-fifth where the rate is not known. */
export function frameLength(rate: string): number {
  const [over = 0, under = 1] = rate.split('/').map(Number)
  return over > 0 && under > 0 ? under / over : 1 / 25
}
