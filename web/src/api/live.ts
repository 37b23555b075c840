import { useQueryClient, type QueryKey } from '@tanstack/vue-query'
import { onScopeDispose, reactive, readonly, ref } from 'vue'
import type { Shapes } from './client'
import { byName, staleBy, type Question } from './queries/stale'
import { follow, type Message } from './wire'

export type RunProgress = Shapes['Progress']
export type StoreProgress = Shapes['StoreProgress']

/** Rates of each store over the last minutes of a run, newest last: about one a second. */
const traces = reactive(new Map<number, Map<string, number[]>>())
export const runTraces = readonly(traces)
const TRACE = 120
const lastTraced = new Map<number, number>()

function trace(run: RunProgress) {
  const now = Date.now()
  if (now - (lastTraced.get(run.run) ?? 0) < 900) return
  lastTraced.set(run.run, now)
  const kept = traces.get(run.run) ?? new Map<string, number[]>()
  for (const store of run.stores)
    kept.set(store.name, [...(kept.get(store.name) ?? []), store.rate].slice(-TRACE))
  traces.set(run.run, kept)
}

const runs = reactive(new Map<number, RunProgress>())
const connected = ref(true)
const lastHeard = ref(new Date())

/** What runs under way have done so far, by the offload's id. Only the live stream knows. */
export const runProgress = readonly(runs)
export const liveConnected = readonly(connected)
/** When the server was last known to be there, while it is not. */
export const liveUntil = readonly(lastHeard)

/** What changes together is asked for once. */
const GATHER_MS = 60

/** Follow the server while the calling scope lives: whatever changes there is asked for again here. */
export function useLive(): void {
  const cache = useQueryClient()
  const stale = new Map<string, QueryKey>()
  let timer: ReturnType<typeof setTimeout> | undefined

  /**
   * An answer on its way may have left the server before the change: when it is here, it is asked for anew, once. To
   * give it up instead would mean that a slow answer to a lively question never arrives.
   */
  const toAskAnew = new Set<string>()
  function askAgain() {
    timer = undefined
    for (const queryKey of stale.values()) {
      for (const query of cache.getQueryCache().findAll({ queryKey })) {
        const again = () => {
          toAskAnew.delete(query.queryHash)
          return cache.invalidateQueries({ queryKey: query.queryKey, exact: true })
        }
        if (query.state.fetchStatus !== 'fetching') void again()
        else if (!toAskAnew.has(query.queryHash)) {
          toAskAnew.add(query.queryHash)
          void query.promise?.then(again, again)
        }
      }
    }
    stale.clear()
  }

  function gather(keys: Iterable<QueryKey>) {
    for (const key of keys) stale.set(JSON.stringify(key), key)
    timer ??= setTimeout(askAgain, GATHER_MS)
  }

  const hear = (message: Message) => {
    if (message.kind === 'progress') {
      runs.set(message.run, message)
      trace(message)
    } else if (message.kind === 'resync') gather(Object.values(staleBy).flatMap((names) => names.map(one)))
    else gather(keysOf(message))
  }
  const leave = follow(hear, (is) => {
    if (connected.value && !is) lastHeard.value = new Date()
    connected.value = is
    // a stream that is refused does not say why: an ordinary question does, such as that the session has ended
    if (!is) gather([one('waterline')])
  })
  onScopeDispose(() => {
    clearTimeout(timer)
    leave()
  })
}

const one = (name: Question): QueryKey => [name]

/** Of questions about one roll only those about the rolls that changed are asked again. */
function keysOf({ topic, names = [] }: Shapes['Changed']): QueryKey[] {
  return staleBy[topic].flatMap((query) =>
    names.length && byName[topic]?.includes(query) ? names.map((name) => [query, name]) : [one(query)],
  )
}
