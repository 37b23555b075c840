import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What was put together for whom, newest first. */
export const useDeliveries = () =>
  useQuery({
    queryKey: ['deliveries'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/deliveries', { params: { path: { production: HERE } } }),
      ),
  })
