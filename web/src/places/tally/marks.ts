/** Arrow keys over the marks of the list: each row has one a store, and one of all has the place in the Tab order. */
const MARK = '[data-mark]'

const STEPS: Record<string, (at: number, last: number) => number> = {
  ArrowRight: (at, last) => Math.min(at + 1, last),
  ArrowLeft: (at) => Math.max(at - 1, 0),
  Home: () => 0,
  End: (_at, last) => last,
}

/** The mark that a key leads to from `mark`, within its list; undefined where the key does not move. */
function markFrom(mark: Element, key: string): HTMLElement | undefined {
  const row = mark.closest('tr')
  const list = mark.closest('table')
  if (!row || !list) return undefined
  const rows = [...list.querySelectorAll('tr')].filter((one) => one.querySelector(MARK))
  const here = [...row.querySelectorAll<HTMLElement>(MARK)]
  const column = here.indexOf(mark as HTMLElement)
  const step = STEPS[key]
  if (step) return here[step(column, here.length - 1)]
  const by = { ArrowDown: 1, ArrowUp: -1 }[key]
  return by === undefined
    ? undefined
    : rows[rows.indexOf(row) + by]?.querySelectorAll<HTMLElement>(MARK)[column]
}

/** Move on an arrow key. The mark that is moved to takes the place in the Tab order. */
export function moveOverMarks(event: KeyboardEvent): void {
  const mark = (event.target as Element).closest?.(MARK)
  const next = mark && markFrom(mark, event.key)
  if (!mark || !next) return
  event.preventDefault()
  mark.setAttribute('tabindex', '-1')
  next.setAttribute('tabindex', '0')
  next.focus()
  next.scrollIntoView({ block: 'nearest', inline: 'nearest' })
}
