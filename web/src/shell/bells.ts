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

/** An alarm, once, for each roll that falls below the line and each card that is called back while somebody watches. */
function useAlarms(wants: (kind: Shapes['NewsKind'], way: Shapes['Way']) => boolean): void {
  const line = useWaterline()
  let known: ReadonlySet<string> | undefined
  watch(
    line.data,
    (now) => {
      if (!now) return
      const below = now.rolls_below.filter((tag) => known && !known.has(tag))
      const recalled = now.cards_recalled.filter((label) => known && !known.has(label))
      known = new Set([...now.rolls_below, ...now.cards_recalled])
      if (recalled.length || (below.length && wants('below the line', 'sound'))) play(TROUBLE)
      if (below.length && wants('below the line', 'browser notification'))
        tell(t('bells.belowTheLine', { rolls: listed(below) }))
      if (recalled.length) tell(t('bells.recalled', { cards: listed(recalled) }))
    },
    { immediate: true },
  )
}

/** Kinds that a run's end, or the foot line, rings for at once. */
const RUNG: readonly Shapes['NewsKind'][] = ['trouble', 'below the line', 'check failed', 'card free']

/** Other news, in the ways that somebody chose. */
function useNewsBells(): (kind: Shapes['NewsKind'], way: Shapes['Way']) => boolean {
  const news = useNews()
  let last: number | undefined
  watch(
    news.data,
    (now) => {
      if (!now) return
      const fresh = now.news.filter((one) => last !== undefined && one.id > last && !RUNG.includes(one.kind))
      last = Math.max(last ?? 0, ...now.news.map((one) => one.id))
      for (const one of fresh) {
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
  const wants = useNewsBells()
  useAlarms(wants)
  const bench = useBench()
  const open = new Set<number>()
  watch(bench.data, (now) => {
    for (const run of now?.slots.flatMap((slot) => slot.offload ?? []) ?? []) {
      if (!run.finished_at) open.add(run.id)
      else if (open.delete(run.id)) {
        const well = run.state === 'well'
        /** A server's own word may be less than the rule asks for. */
        const proven = run.stores.every((store) => store.state === 'verified')
        const kind = well ? 'card free' : 'trouble'
        if (wants(kind, 'sound')) play(well ? WELL : TROUBLE)
        const said = proven ? 'bells.agreesOnEvery' : 'bells.toBeChecked'
        if (wants(kind, 'browser notification'))
          tell(t(well ? said : 'bells.endedWithTrouble', { tag: run.tag }))
      }
    }
  })
}
