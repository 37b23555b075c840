import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

export const useWaterline = () =>
  useQuery({
    queryKey: ['waterline'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/waterline', { params: { path: { production: HERE } } }),
      ),
  })
