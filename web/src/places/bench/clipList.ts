import { useId, type Ref } from 'vue'
import { clipAfter, type Clip } from './clips'

interface Listed {
  clips: () => readonly Clip[]
  chosen: Ref<string>
  /** One clip in or out; or, with `add`, all of these in. */
  pick: (paths: string[], add: boolean) => void
  /** How many stand beside one another. */
  across: () => number
  /** In which row the clip at this place is drawn. */
  above: (at: number) => number
  show: (row: number) => void
}

/** Clips as the options of a listbox: one is chosen by arrow keys or a press, and any may be picked. */
export function useClipList({ clips, chosen, pick, across, above, show }: Listed) {
  const list = useId()
  const optionId = (path: string) => `${list}-${clips().findIndex((clip) => clip.path === path)}`

  /** Where a range begins that is picked through: the clip picked last, in the order in which they stand here. */
  let anchor = ''
  function take(path: string, through: boolean) {
    const paths = clips().map((clip) => clip.path)
    const from = through ? paths.indexOf(anchor) : -1
    const to = paths.indexOf(path)
    pick(from < 0 ? [path] : paths.slice(Math.min(from, to), Math.max(from, to) + 1), through)
    anchor = path
  }

  function press(event: MouseEvent, path: string) {
    if (event.ctrlKey || event.metaKey || event.shiftKey) take(path, event.shiftKey)
    chosen.value = path
  }
  function move(event: KeyboardEvent) {
    if (event.key === ' ' && chosen.value) {
      event.preventDefault()
      take(chosen.value, event.shiftKey)
      return
    }
    const to = clipAfter(event, clips(), chosen.value, across())
    if (to === undefined) return
    event.preventDefault()
    if (event.shiftKey && chosen.value) take(chosen.value, true)
    chosen.value = clips()[to]?.path ?? ''
    if (event.shiftKey) take(chosen.value, true)
    show(above(to))
  }
  return { press, move, optionId }
}
