import { useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

export const useRollFiles = (tag: MaybeRefOrGetter<string>) =>
  useInfiniteQuery({
    queryKey: ['files', tag],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/tally/rolls/{tag}/files', {
          params: { path: { production: HERE, tag: toValue(tag) }, query: { after: pageParam } },
        }),
      ),
    ...paged,
    retry: false,
  })
