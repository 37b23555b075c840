import { computed, reactive, type ComputedRef } from 'vue'
import type { Shapes } from '../../api/client'
import { useChoice } from '../../api/queries'
import type { Clip } from './clips'

export type Take = Required<Shapes['TakeIn']>

export const EVERYTHING: Readonly<Take> = {
  only_new: false,
  from_s: null,
  until_s: null,
  folders: [],
  kinds: [],
  picked: null,
}

/** The folders a camera makes: two levels down at most, where clips are. */
export function cameraFolders(clips: readonly Clip[]): string[] {
  const found = new Set<string>()
  for (const { path } of clips) {
    const parts = path.split('/').slice(0, -1)
    if (parts.length) found.add(parts.slice(0, parts[0] === 'DCIM' ? 2 : 1).join('/'))
  }
  return [...found].sort()
}

/** What is wanted of a card, as somebody changes it; and what that would do, as the server answers. */
export function useTaking(
  card: ComputedRef<number | null>,
  clips: ComputedRef<Clip[]>,
  renames: ComputedRef<boolean>,
) {
  const take = reactive<Take>({ ...EVERYTHING, folders: [], kinds: [] })
  const active = computed(
    () =>
      take.only_new ||
      take.from_s !== null ||
      take.until_s !== null ||
      take.folders.length > 0 ||
      take.kinds.length > 0 ||
      take.picked !== null,
  )
  const wanted = computed<Take>(() => ({ ...take, picked: take.picked ? [...take.picked] : null }))

  const choice = useChoice(
    card,
    wanted,
    () => card.value !== null && clips.value.length > 0 && (active.value || renames.value),
  )

  /** Pick by hand: this clip in or out; with `through`, every clip from the last one picked to this. */
  let last = -1
  function pick(path: string, through: boolean) {
    const at = clips.value.findIndex((clip) => clip.path === path)
    if (at < 0) return
    const picked = new Set(take.picked ?? [])
    const from = through && last >= 0 ? Math.min(last, at) : at
    const to = through && last >= 0 ? Math.max(last, at) : at
    const adding = through || !picked.has(path)
    for (const clip of clips.value.slice(from, to + 1))
      if (adding) picked.add(clip.path)
      else picked.delete(clip.path)
    last = at
    take.picked = picked.size ? [...picked] : null
  }

  /** The stretch of time, in seconds; null is open. */
  function within(which: 'from_s' | 'until_s', at: number | null) {
    take[which] = at
  }

  function clear() {
    Object.assign(take, { ...EVERYTHING, folders: [], kinds: [] })
    last = -1
  }

  return { take, wanted, active, choice, pick, within, clear }
}

export type Taking = ReturnType<typeof useTaking>
