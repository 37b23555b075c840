/** A list of which the server hands out a page at a time; `after` asks for the next. */
interface Paged {
  after: string | null
}

export const paged = { initialPageParam: '', getNextPageParam: (page: Paged) => page.after }
