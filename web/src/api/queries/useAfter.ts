import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What stations started after a roll's offloads, newest first. */
export const useAfter = (tag: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['after', tag],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/runs/after/{tag}', {
          params: { path: { production: HERE, tag: toValue(tag) } },
        }),
      ),
  })
