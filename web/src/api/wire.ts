import type { Shapes } from './client'
import { HERE } from './here'

export type Message = Shapes['LiveMessage']['message']
const CHANNEL = 'raft-live'
const AGAIN_MS = 2000
type Heard = { message: Message } | { connected: boolean }

/**
 * Follow the server's stream, over one connection for all tabs of a browser: whichever tab holds the lock listens, and
 * tells the others. Browsers keep few connections to one server, and each of ours never ends. A tab that comes into
 * sight takes the lock over: one that is out of sight may be frozen, and would leave the others with old news.
 */
export function follow(hear: (message: Message) => void, tell: (connected: boolean) => void): () => void {
  const channel = 'BroadcastChannel' in window ? new BroadcastChannel(CHANNEL) : undefined
  let source: EventSource | undefined
  let give: (() => void) | undefined

  const spread = (heard: Heard) => {
    take(heard)
    channel?.postMessage(heard)
  }
  const take = (heard: Heard) => {
    if ('message' in heard) hear(heard.message)
    else tell(heard.connected)
  }
  if (channel) channel.onmessage = (event: MessageEvent<Heard>) => take(event.data)

  function listen() {
    source = new EventSource(`/api/live?of=${encodeURIComponent(HERE)}`)
    source.onmessage = (event: MessageEvent<string>) => spread({ message: JSON.parse(event.data) as Message })
    source.onopen = () => spread({ connected: true })
    source.onerror = () => {
      spread({ connected: false })
      // a server that refuses, because the session has ended or it is about to stop, ends the stream for good
      if (source?.readyState === EventSource.CLOSED) setTimeout(() => source && listen(), AGAIN_MS)
    }
  }

  function close() {
    source?.close()
    source = undefined
    give?.()
    give = undefined
  }

  function begin() {
    // without a secure address there are no locks: then each tab has a connection of its own
    if (!channel || !navigator.locks) return listen()
    hear({ kind: 'resync' }) // what was said before this tab listened is not known here
    void queue(document.visibilityState === 'visible')
  }

  /** Wait for the lock, or take it from whichever tab has it. Only the last wish of a tab counts. */
  async function queue(steal: boolean) {
    asking?.abort()
    const mine = (asking = new AbortController())
    try {
      await navigator.locks.request(CHANNEL, steal ? { steal } : { signal: mine.signal }, () => {
        if (mine.signal.aborted) return
        listen()
        return new Promise<void>((done) => (give = done))
      })
    } catch {
      if (asking !== mine || gone) return
      close() // another tab took it
      return queue(false)
    }
  }

  const seen = () => {
    if (document.visibilityState === 'visible' && channel && navigator.locks && !source) void queue(true)
  }

  let asking: AbortController | undefined
  let gone = false
  // a page that the browser keeps for "back" would go on holding the connection
  const leave = () => {
    gone = true
    asking?.abort()
    close()
  }
  const back = (event: PageTransitionEvent) => {
    if (!event.persisted) return
    gone = false
    begin()
  }
  window.addEventListener('pagehide', leave)
  window.addEventListener('pageshow', back)
  document.addEventListener('visibilitychange', seen)
  begin()
  return () => {
    window.removeEventListener('pagehide', leave)
    window.removeEventListener('pageshow', back)
    document.removeEventListener('visibilitychange', seen)
    leave()
    channel?.close()
  }
}
