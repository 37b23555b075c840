import { watch } from 'vue'
import { useBench } from '../api/queries/useBench'
import type { Shapes } from '../api/client'
import { useNews } from '../api/queries/useNews'
import { useWaterline } from '../api/queries/useWaterline'
import { muted } from '../theme/choices'
import { listed, t } from '../words/say'

type Tune = readonly (readonly [hertz: number, start: number])[]
const WELL: Tune = [
  [523, 0],
  [784, 0.18],
]
const TROUBLE: Tune = [
  [330, 0],
  [247, 0.22],
  [330, 0.44],
]

function play(tune: Tune): void {
  if (muted.value || !('AudioContext' in window)) return
  const audio = new AudioContext()
  for (const [hertz, start] of tune) {
    const tone = audio.createOscillator()
    const volume = audio.createGain()
    tone.frequency.value = hertz
    volume.gain.setValueAtTime(0.2, audio.currentTime + start)
    volume.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + start + 0.4)
    tone.connect(volume).connect(audio.destination)
    tone.start(audio.currentTime + start)
    tone.stop(audio.currentTime + start + 0.45)
  }
  setTimeout(() => void audio.close(), 1500)
}

function tell(words: string): void {
  if ('Notification' in window && Notification.permission === 'granted' && document.hidden)
    new Notification('Rugged Raft', { body: words })
}

/** To be called from a click: browsers only ask then. */
export const allowNotifications = () => {
  if ('Notification' in window && Notification.permission === 'default') void Notification.requestPermission()
}

type Wants = (kind: Shapes['NewsKind'], way: Shapes['Way']) => boolean
/** What was rung for as soon as it was seen, so that it is not rung for once more when it comes as news. */
type Rung = Map<string, number>
/** News come within seconds; what comes later is another thing, and rings. */
const SAME_MS = 60_000
const rungFor = (kind: Shapes['NewsKind'], subject: string) => `${kind}: ${subject}`

/** An alarm, once, for each roll that falls below the line and each card that is called back while somebody watches. */
function useAlarms(wants: Wants, rung: Rung): void {
  const line = useWaterline()
  let known: ReadonlySet<string> | undefined
  watch(
    line.data,
    (now) => {
      if (!now) return
      const below = now.rolls_below.filter((tag) => known && !known.has(tag))
      const recalled = now.cards_recalled.filter((label) => known && !known.has(label))
      known = new Set([...now.rolls_below, ...now.cards_recalled])
      for (const tag of below) rung.set(rungFor('below the line', tag), Date.now())
      if (recalled.length || (below.length && wants('below the line', 'sound'))) play(TROUBLE)
      if (below.length && wants('below the line', 'browser notification'))
        tell(t('bells.belowTheLine', { rolls: listed(below) }))
      if (recalled.length) tell(t('bells.recalled', { cards: listed(recalled) }))
    },
    { immediate: true },
  )
}

/** News, in the ways that somebody chose. */
function useNewsBells(rung: Rung): Wants {
  const news = useNews()
  let last: number | undefined
  watch(
    news.data,
    (now) => {
      if (!now) return
      const fresh = now.news.filter((one) => last !== undefined && one.id > last)
      last = Math.max(last ?? 0, ...now.news.map((one) => one.id))
      for (const one of fresh) {
        const at = rung.get(rungFor(one.kind, one.subject)) ?? 0
        rung.delete(rungFor(one.kind, one.subject))
        if (Date.now() - at < SAME_MS) continue
        const ways = now.choices[one.kind] ?? []
        if (ways.includes('sound')) play(one.grave ? TROUBLE : WELL)
        if (ways.includes('browser notification')) tell(one.sentence)
      }
    },
    { immediate: true },
  )
  return (kind, way) => news.data.value?.choices[kind]?.includes(way) ?? true
}

/** A chime and a notification when a run ends; another chime when it ended with trouble, and for alarms. */
export function useBells(): void {
  const rung: Rung = new Map()
  const wants = useNewsBells(rung)
  useAlarms(wants, rung)
  const bench = useBench()
  const open = new Set<number>()
  function ended(run: Shapes['OffloadOut']): void {
    if (run.state === 'well') {
      /** A server's own word may be less than the rule asks for. */
      const proven = run.stores.every((store) => store.state === 'verified')
      play(WELL)
      tell(t(proven ? 'bells.agreesOnEvery' : 'bells.toBeChecked', { tag: run.tag }))
      return
    }
    rung.set(rungFor('trouble', run.tag), Date.now())
    if (wants('trouble', 'sound')) play(TROUBLE)
    if (wants('trouble', 'browser notification')) tell(t('bells.endedWithTrouble', { tag: run.tag }))
  }
  watch(bench.data, (now) => {
    for (const run of now?.slots.flatMap((slot) => slot.offload ?? []) ?? []) {
      if (!run.finished_at) open.add(run.id)
      else if (open.delete(run.id)) ended(run)
    }
  })
}
