import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** What happened that matters, newest first, and what somebody wants to be told of. */
export const useNews = () =>
  useQuery({
    queryKey: ['news'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/news', { params: { path: { production: HERE } } })),
    enabled: seesWork,
  })
