import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** Units that were sent out, and what they handed in, newest first. */
export const useUnits = () =>
  useQuery({
    queryKey: ['units'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/units', { params: { path: { production: HERE } } })),
    enabled: seesWork,
  })
