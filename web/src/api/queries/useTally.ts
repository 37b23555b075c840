import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

/** sought: what is left out asks for all */
export const useTally = (sought: MaybeRefOrGetter<Partial<Shapes['SoughtIn']>>) =>
  useInfiniteQuery({
    queryKey: ['tally', sought],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/tally', {
          params: { path: { production: HERE }, query: { ...toValue(sought), after: pageParam } },
        }),
      ),
    ...paged,
    placeholderData: keepPreviousData,
  })
