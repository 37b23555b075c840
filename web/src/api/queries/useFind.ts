import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

/** Whatever holds all of some words; asked while there are any. What was found before stays until the answer is there. */
export const useFind = (sought: MaybeRefOrGetter<Partial<Shapes['FindIn']>>) =>
  useInfiniteQuery({
    queryKey: ['find', sought],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/find', {
          params: { path: { production: HERE }, query: { ...toValue(sought), after: pageParam } },
        }),
      ),
    ...paged,
    enabled: () => Boolean(toValue(sought).text?.trim()),
    placeholderData: keepPreviousData,
    staleTime: 0,
    retry: false,
  })
