import { useQueryClient } from '@tanstack/vue-query'
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

/** Follow the server while the calling scope lives: whatever changes there is asked for again here. */
export function useLive(): void {
  const cache = useQueryClient()
  const source = new EventSource('/api/live')

  const hear = (message: Message) => {
    if (message.kind === 'progress') runs.set(message.offload, message)
    else if (message.kind === 'resync') void cache.invalidateQueries()
    else for (const name of staleBy[message.topic] ?? []) void cache.invalidateQueries({ queryKey: [name] })
  }

  source.onmessage = (event: MessageEvent<string>) => hear(JSON.parse(event.data) as Message)
  source.onopen = () => (connected.value = true)
  source.onerror = () => (connected.value = false)
  onScopeDispose(() => source.close())
}
