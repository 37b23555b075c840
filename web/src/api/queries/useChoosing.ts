import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** What was said of the clips of a roll, which ones to open, and whether they decode. */
export const useChoosing = (tag: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['choosing', tag],
    enabled: seesWork,
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/choosing/rolls/{tag}', {
          params: { path: { production: HERE, tag: toValue(tag) } },
        }),
      ),
    retry: false,
  })
