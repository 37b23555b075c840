import { onScopeDispose } from 'vue'
import { useEventListener } from '@vueuse/core'
import { keysOn } from '../theme/choices'
import { typesInto } from './fields'

/** A key that stands alone is a shortcut; one that is followed sooner than this belongs to a code that is being scanned. */
const ALONE_MS = 250
/** A code that has not ended by then is dropped. */
const FORGET_MS = 3000

const shortcuts = new Map<string, () => unknown>()

/** What a single key does while the calling scope lives; the last that asked for a key has it. */
export function useShortcuts(acts: Record<string, () => unknown>): void {
  for (const [key, act] of Object.entries(acts)) shortcuts.set(key, act)
  onScopeDispose(() => {
    for (const [key, act] of Object.entries(acts)) if (shortcuts.get(key) === act) shortcuts.delete(key)
  })
}

/**
 * The one place that listens to keys. What comes from a hand scanner looks as if it was typed: it is known by its end,
 * Enter after more than one sign, and none of its signs acts as a shortcut.
 */
export function useKeys(scanned: (code: string) => unknown): void {
  let typed = ''
  let alone: ReturnType<typeof setTimeout> | undefined
  let forget: ReturnType<typeof setTimeout> | undefined

  function clear(): string {
    const code = typed
    typed = ''
    clearTimeout(alone)
    clearTimeout(forget)
    return code
  }
  function press() {
    const act = typed.length === 1 && keysOn.value && shortcuts.get(typed.toLowerCase())
    if (!act) return // it may be the beginning of a code
    clear()
    act()
  }

  useEventListener(
    document,
    'keydown',
    (event) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat || typesInto(event.target)) return
      if (event.key === 'Enter' && typed.length > 1) {
        event.preventDefault()
        event.stopPropagation()
        void scanned(clear())
      } else if (event.key.length === 1 && event.key !== ' ') {
        typed += event.key
        clearTimeout(alone)
        clearTimeout(forget)
        alone = setTimeout(press, ALONE_MS)
        forget = setTimeout(clear, FORGET_MS)
      }
    },
    { capture: true },
  )
  onScopeDispose(clear)
}
