import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Every store, with what it stands on and where it is. */
export const useStores = () =>
  useQuery({
    queryKey: ['stores'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/stores', { params: { path: { production: HERE } } }),
      ),
  })
