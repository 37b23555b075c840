import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** left: empty for what the ledger knows to be on the right */
export interface Sides {
  left: string
  right: string
}
type Asked = MaybeRefOrGetter<Sides | undefined>
const P = '/api/productions/{production}/stores/comparisons'

/** How two stores were last found side by side; asked for while it is known which. */
export const useComparison = (sides: Asked) =>
  useQuery({
    queryKey: ['comparison', sides],
    queryFn: () =>
      answered(
        client.GET(P, {
          params: { path: { production: HERE }, query: toValue(sides) ?? { left: '', right: '' } },
        }),
      ),
    enabled: computed(() => toValue(sides) !== undefined),
  })

/** What is not identical, a page at a time. */
export const useDifferences = (sides: Asked, wanted: MaybeRefOrGetter<boolean>) =>
  useInfiniteQuery({
    queryKey: ['comparison', 'rows', sides],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET(`${P}/rows`, {
          params: {
            path: { production: HERE },
            query: { ...(toValue(sides) ?? { left: '', right: '' }), after: pageParam },
          },
        }),
      ),
    initialPageParam: -1,
    getNextPageParam: (page) => page.after ?? undefined,
    enabled: computed(() => toValue(sides) !== undefined && toValue(wanted)),
  })
