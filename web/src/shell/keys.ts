import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { PLACES } from '../router'
import { keysOn, muted, otherTheme } from '../theme/choices'
import { typesInto } from './fields'

/** A hand scanner types faster than people: signs closer together than this belong to a label, not to shortcuts. */
const SCANNER_GAP_MS = 45

/** Single-key shortcuts, and labels typed by a hand scanner: the code and Enter lead to that card from any screen. */
export function useKeys() {
  const router = useRouter()
  const helpShown = ref(false)
  let typed = ''
  let timer: ReturnType<typeof setTimeout> | undefined

  const acts: Record<string, () => unknown> = {
    '?': () => (helpShown.value = true),
    n: otherTheme,
    m: () => (muted.value = !muted.value),
    ...Object.fromEntries(PLACES.map((place) => [place.key, () => router.push(place.path)])),
  }

  function settle() {
    const word = typed
    typed = ''
    if (word.length === 1 && keysOn.value) acts[word]?.()
  }

  useEventListener(document, 'keydown', (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || typesInto(event.target)) return
    if (event.key === 'Enter' && typed.length > 1) {
      event.preventDefault()
      clearTimeout(timer)
      void router.push({ path: '/clearing', query: { card: typed } })
      typed = ''
    } else if (event.key.length === 1 && event.key !== ' ') {
      typed += event.key
      clearTimeout(timer)
      timer = setTimeout(settle, SCANNER_GAP_MS)
    }
  })

  return { helpShown }
}
