import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

/** Which cards are asked for; what is left out asks for all. */
export interface CardsSought {
  text?: string | undefined
  camera?: string | undefined
  life?: Shapes['CardLife'] | undefined
}

export const useCardList = (sought: MaybeRefOrGetter<CardsSought>) =>
  useInfiniteQuery({
    queryKey: ['card', 'list', sought],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/cards', {
          params: { path: { production: HERE }, query: { ...toValue(sought), after: pageParam } },
        }),
      ),
    ...paged,
    placeholderData: keepPreviousData,
  })
