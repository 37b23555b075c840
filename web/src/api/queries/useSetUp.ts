import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

export const useSetUp = () =>
  useQuery({
    queryKey: ['setup'],
    enabled: seesWork,
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/setup', { params: { path: { production: HERE } } })),
  })
