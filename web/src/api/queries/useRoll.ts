import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

export const useRoll = (tag: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['roll', tag],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/tally/rolls/{tag}', {
          params: { path: { production: HERE, tag: toValue(tag) } },
        }),
      ),
    retry: false,
  })
