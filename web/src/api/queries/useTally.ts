import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

/** Which rolls are asked for; what is left out asks for all. */
export interface RollsSought {
  day?: string | undefined
  camera?: string | undefined
  state?: Shapes['RollState'] | undefined
  on?: string | undefined
  not_on?: string | undefined
  text?: string | undefined
}

export const useTally = (sought: MaybeRefOrGetter<RollsSought>) =>
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
