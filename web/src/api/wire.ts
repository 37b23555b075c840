import type { Shapes } from './client'

export type Message = Shapes['LiveMessage']['message']
const CHANNEL = 'raft-live'
type Heard = { message: Message } | { connected: boolean }

/**
 * Follow the server's stream, over one connection for all tabs of a browser: whichever tab holds the lock listens, and
 * tells the others. Browsers keep few connections to one server, and each of ours never ends.
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
    source = new EventSource('/api/live')
    source.onmessage = (event: MessageEvent<string>) => spread({ message: JSON.parse(event.data) as Message })
    source.onopen = () => spread({ connected: true })
    source.onerror = () => spread({ connected: false })
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
    void navigator.locks
      .request(CHANNEL, { signal: waiting.signal }, () => {
        listen()
        return new Promise<void>((done) => (give = done))
      })
      .catch(() => undefined) // this tab was closed before its turn
  }

  let waiting = new AbortController()
  // a page that the browser keeps for "back" would go on holding the connection
  const leave = () => {
    waiting.abort()
    close()
  }
  const back = (event: PageTransitionEvent) => {
    if (!event.persisted) return
    waiting = new AbortController()
    begin()
  }
  window.addEventListener('pagehide', leave)
  window.addEventListener('pageshow', back)
  begin()
  return () => {
    window.removeEventListener('pagehide', leave)
    window.removeEventListener('pageshow', back)
    leave()
    channel?.close()
  }
}
