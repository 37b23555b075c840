import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** The picture by which the production shows itself on its clients' pages. */
export const useEmblem = () =>
  useQuery({
    queryKey: ['emblem'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/deliveries/emblem', {
          params: { path: { production: HERE } },
        }),
      ),
  })

/** What was put together for whom, newest first. */
export const useDeliveries = () =>
  useQuery({
    queryKey: ['deliveries'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/deliveries', { params: { path: { production: HERE } } }),
      ),
  })
