import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What the last look through a store for rolls found; asked for while somebody wants to see it. */
export const useSearch = (store: MaybeRefOrGetter<string>, wanted: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['search', store],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/stores/{name}/search', {
          params: { path: { production: HERE, name: toValue(store) } },
        }),
      ),
    enabled: wanted,
  })
