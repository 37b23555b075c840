import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

const P = '/api/productions/{production}/returns'

/** Folders that were looked into, and what was or is being brought back to one. */
export const useReturns = () =>
  useQuery({
    queryKey: ['returns'],
    queryFn: () => answered(client.GET(P, { params: { path: { production: HERE } } })),
    refetchInterval: (query) => (query.state.data?.looks.some((one) => one.going) ? 2_000 : false),
  })

/** What of a folder is not as it was; asked while there is such a look. */
export const useLook = (id: MaybeRefOrGetter<number | undefined>) =>
  useInfiniteQuery({
    queryKey: ['returns', 'look', id],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET(`${P}/looks/{look_id}`, {
          params: { path: { production: HERE, look_id: toValue(id) ?? 0 }, query: { after: pageParam } },
        }),
      ),
    initialPageParam: -1,
    getNextPageParam: (page) => page.after ?? undefined,
    enabled: () => toValue(id) !== undefined,
    retry: false,
  })
