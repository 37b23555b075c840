import { useInfiniteQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

export const useClearing = () =>
  useInfiniteQuery({
    queryKey: ['clearing'],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/clearing', {
          params: { path: { production: HERE }, query: { after: pageParam } },
        }),
      ),
    ...paged,
  })
