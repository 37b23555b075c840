import type { Shapes } from '../../api/client'
import { t } from '../../words/say'
import { longClock } from '../../words/times'
import { bytes } from '../../words/units'

/** What a clip's header says, on one line; what it does not say is left out. */
export function headerSays(clip: Shapes['RollClip']): string {
  const { duration_s, width, height, rate, codec, timecode, channels, body, lens } = clip
  return [
    body,
    lens,
    duration_s ? longClock(duration_s) : '',
    width && height ? t('headerSays.size', { width, height }) : '',
    rate ? t('headerSays.rate', { rate: perSecond(rate) }) : '',
    codec,
    timecode ? t('headerSays.from', { timecode }) : '',
    channels ? t('headerSays.channels', { channels }, channels) : '',
    bytes(clip.size),
  ]
    .filter(Boolean)
    .join(', ')
}

/** "30000/1001" as people say it: 29.97. */
function perSecond(rate: string): string {
  const [over, under] = rate.split('/').map(Number)
  return String(Math.round((100 * (over ?? 0)) / (under || 1)) / 100)
}
