import { useMutation, useQueryClient } from '@tanstack/vue-query'

/** One change on the server. The live stream brings what it changed; until then the screens named are asked again. */
export function useAct<Words, Result>(act: (words: Words) => Promise<Result>, ...stale: string[]) {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: act,
    onSettled: () => Promise.all(stale.map((name) => cache.invalidateQueries({ queryKey: [name] }))),
  })
}
