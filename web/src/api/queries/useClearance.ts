import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What a clearance was decided on, and what happened since. */
export const useClearance = (id: MaybeRefOrGetter<number>) =>
  useQuery({
    queryKey: ['clearance', id],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/clearing/clearances/{clearance_id}', {
          params: { path: { production: HERE, clearance_id: toValue(id) } },
        }),
      ),
    retry: false,
  })
