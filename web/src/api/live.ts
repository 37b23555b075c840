import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onScopeDispose, reactive, readonly, ref } from 'vue'
import { staleBy } from './queries'

export interface StoreProgress {
  name: string
  written: number
  verified: number
  trouble: string
}

/** Bytes of a run under way. */
export interface RunProgress {
  offload: number
  total: number
  read: number
  stores: StoreProgress[]
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
    if (message.kind === 'progress') runs.set(message.offload, message)
    else if (message.kind === 'resync') gather(Object.values(staleBy).flat())
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
