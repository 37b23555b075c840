import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** How it goes, over days. */
export const useTrends = () =>
  useQuery({
    queryKey: ['trends'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/trends', { params: { path: { production: HERE } } }),
      ),
  })
