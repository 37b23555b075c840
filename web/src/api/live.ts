import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onScopeDispose, reactive, readonly, ref } from 'vue'
import { staleBy } from './queries'

export interface StoreProgress {
  name: string
  written: number
  verified: number
  trouble: string
  /** Bytes a second that this store holds more and has read back, of late. */
  rate: number
}

/** Bytes of a run under way. */
export interface RunProgress {
  offload: number
  total: number
  read: number
  read_again: number
  stores: StoreProgress[]
  rate: number
  /** Seconds to the end, null before that can be told. */
  left_s: number | null
  /** What sets the pace: "the reader" or a store's name. */
  held_by: string
}

/** Rates of each store over the last minutes of a run, newest last: about one a second. */
const traces = reactive(new Map<number, Map<string, number[]>>())
export const runTraces = readonly(traces)
const TRACE = 120
const lastTraced = new Map<number, number>()

function trace(run: RunProgress) {
  const now = Date.now()
  if (now - (lastTraced.get(run.offload) ?? 0) < 900) return
  lastTraced.set(run.offload, now)
  const kept = traces.get(run.offload) ?? new Map<string, number[]>()
  for (const store of run.stores)
    kept.set(store.name, [...(kept.get(store.name) ?? []), store.rate].slice(-TRACE))
  traces.set(run.offload, kept)
}

type Message = { kind: 'resync' } | { kind: 'changed'; topic: string } | ({ kind: 'progress' } & RunProgress)

const runs = reactive(new Map<number, RunProgress>())
const connected = ref(true)

/** What runs under way have done so far, by the offload's id. Only the live stream knows. */
export const runProgress = readonly(runs)
export const liveConnected = readonly(connected)

/** What changes together is asked for once. */
const GATHER_MS = 60

/** Follow the server while the calling scope lives: whatever changes there is asked for again here. */
export function useLive(): void {
  const cache = useQueryClient()
  let source: EventSource | undefined
  const stale = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined

  /**
   * An answer on its way may have left the server before the change: when it is here, it is asked for anew, once. To
   * give it up instead would mean that a slow answer to a lively question never arrives.
   */
  const toAskAnew = new Set<string>()
  function askAgain() {
    timer = undefined
    for (const name of stale) {
      for (const query of cache.getQueryCache().findAll({ queryKey: [name] })) {
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

  function gather(names: Iterable<string>) {
    for (const name of names) stale.add(name)
    timer ??= setTimeout(askAgain, GATHER_MS)
  }

  const hear = (message: Message) => {
    if (message.kind === 'progress') {
      runs.set(message.offload, message)
      trace(message)
    } else if (message.kind === 'resync') gather(Object.values(staleBy).flat())
    else gather(staleBy[message.topic] ?? [])
  }

  function listen() {
    if (source) return
    source = new EventSource('/api/live')
    source.onmessage = (event: MessageEvent<string>) => hear(JSON.parse(event.data) as Message)
    source.onopen = () => (connected.value = true)
    source.onerror = () => (connected.value = false)
  }

  function leave() {
    source?.close()
    source = undefined
  }

  // A page that the browser keeps for "back" would go on holding one of its few connections to the server.
  useEventListener(window, 'pagehide', leave)
  useEventListener(window, 'pageshow', listen)
  listen()
  onScopeDispose(() => {
    clearTimeout(timer)
    leave()
  })
}
