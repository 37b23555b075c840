import { computed, reactive, type ComputedRef } from 'vue'
import type { Shapes } from '../../api/client'
import { useChoice } from '../../api/queries/useChoice'
import type { Clip } from './clips'

export type Take = Required<Shapes['TakeIn']>

export const EVERYTHING: Readonly<Take> = {
  only_new: false,
  from_s: null,
  until_s: null,
  folders: [],
  kinds: [],
  picked: null,
  to: null,
}

const isSome = (value: unknown) => (Array.isArray(value) ? value.length > 0 : Boolean(value))

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
      take.picked !== null ||
      take.to !== null,
  )
  const wanted = computed<Take>(() => ({ ...take, picked: take.picked ? [...take.picked] : null }))

  const choice = useChoice(
    card,
    wanted,
    () =>
      card.value !== null &&
      (take.to !== null || (clips.value.length > 0 && (active.value || renames.value))),
  )
  /** Whether less than all of the card is wanted. */
  const partly = computed(() => Object.entries(take).some(([name, value]) => name !== 'to' && isSome(value)))

  /** Pick by hand: a clip in or out; with `add`, all of these in. */
  function pick(paths: readonly string[], add: boolean) {
    const picked = new Set(take.picked ?? [])
    for (const path of paths)
      if (add || !picked.has(path)) picked.add(path)
      else picked.delete(path)
    take.picked = picked.size ? [...picked] : null
  }

  /** The stretch of time, in seconds; null is open. */
  function within(which: 'from_s' | 'until_s', at: number | null) {
    take[which] = at
  }

  /** Everything again; to: the stores too are the plan's again */
  function clear(to: string[] | null = take.to) {
    Object.assign(take, { ...EVERYTHING, folders: [], kinds: [], to })
  }

  return { take, wanted, active, partly, choice, pick, within, clear }
}

export type Taking = ReturnType<typeof useTaking>
