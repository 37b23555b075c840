import { computed, ref, type Ref } from 'vue'
import type { Shapes } from '../../api/client'
import type { Spot } from '../../api/queries/useClips'

/** Pixels, wide and high, that are seen at once (the server's `core.pictures.WINDOW`). */
const WINDOW = [960, 540] as const
const MOST = 4
const MOVES: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
const between = (value: number) => Math.min(1, Math.max(0, value))

/** Seeing a clip pixel for pixel: where in it, and how many screen pixels for each. */
export function useCloseUp(clip: Ref<Shapes['RollClip'] | undefined>) {
  const wanted = ref(false)
  const spot = ref<Spot>({ x: 0.5, y: 0.5 })
  const magnified = ref(1)
  const possible = computed(() => clip.value?.kind === 'still' || clip.value?.kind === 'video')
  const close = computed(() => wanted.value && possible.value)

  /** By half of what is seen. */
  function move([right, down]: readonly [number, number]) {
    const half = (seen: number, of: number | null | undefined) => (of ? seen / 2 / of : 0.1) / magnified.value
    spot.value = {
      x: between(spot.value.x + right * half(WINDOW[0], clip.value?.width)),
      y: between(spot.value.y + down * half(WINDOW[1], clip.value?.height)),
    }
  }
  function toggle() {
    wanted.value = !close.value
  }
  function press(event: KeyboardEvent): boolean {
    const to = event.shiftKey ? MOVES[event.key] : undefined
    if (event.key.toLowerCase() === 'p') toggle()
    else if (!close.value) return false
    else if (event.key === '+') magnified.value = Math.min(MOST, 2 * magnified.value)
    else if (event.key === '-') magnified.value = Math.max(1, magnified.value / 2)
    else if (to) move(to)
    else return false
    return true
  }
  return { close, possible, wanted, spot, magnified, toggle, press }
}
