import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** What is done by itself: standing orders with what they have still to bring, and what is done on each store. */
export const useUpkeep = () =>
  useQuery({
    queryKey: ['upkeep'],
    enabled: seesWork,
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/upkeep', { params: { path: { production: HERE } } }),
      ),
  })
