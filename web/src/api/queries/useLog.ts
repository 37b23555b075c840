import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

export interface LogWanted {
  kind?: Shapes['ActKind'] | undefined
  person?: string | undefined
  text?: string | undefined
}

/** The journal, a page at a time; `wanted` is asked of the server, so that nothing it would find is missed. */
export const useLog = (wanted: MaybeRefOrGetter<LogWanted>) =>
  useInfiniteQuery({
    queryKey: ['log', wanted],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/log', {
          params: { path: { production: HERE }, query: { ...toValue(wanted), before: pageParam } },
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.before ?? undefined,
    placeholderData: keepPreviousData,
  })
