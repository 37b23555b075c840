import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

export const useSetUp = () =>
  useQuery({
    queryKey: ['setup'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/setup', { params: { path: { production: HERE } } })),
  })
