import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

export const useQueue = () =>
  useQuery({
    queryKey: ['queue'],
    enabled: seesWork,
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/queue', { params: { path: { production: HERE } } }),
      ),
    refetchInterval: 5_000,
  })
