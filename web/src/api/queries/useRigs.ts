import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

export const useRigs = () =>
  useQuery({
    queryKey: ['rigs'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/rigs', { params: { path: { production: HERE } } }),
      ),
  })
