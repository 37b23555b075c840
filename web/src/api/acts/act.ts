import type { Question } from '../queries/stale'
import { useMutation, useQueryClient, type MutateOptions } from '@tanstack/vue-query'

/**
 * One change on the server. The live stream brings what it changed; until then the screens named are asked again. Asked
 * for twice with the same words, as by a double click, it is done once.
 */
export function useAct<Words, Result>(act: (words: Words) => Promise<Result>, ...stale: Question[]) {
  const cache = useQueryClient()
  const underWay = new Set<string>()
  const mutation = useMutation({
    mutationFn: act,
    onSettled: (_answer, _error, words) => {
      underWay.delete(JSON.stringify(words))
      return Promise.all(stale.map((name) => cache.invalidateQueries({ queryKey: [name] })))
    },
  })

  function mutate(words: Words, options?: MutateOptions<Result, Error, Words>) {
    const key = JSON.stringify(words)
    if (underWay.has(key)) return
    underWay.add(key)
    mutation.mutate(words, options)
  }
  return { ...mutation, mutate }
}

/** A file as the body of a request. */
export const asFile = (file: File) => ({
  body: { file: '' },
  bodySerializer: () => {
    const form = new FormData()
    form.append('file', file)
    return form
  },
})
