import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Every reader that a station sees now. */
export const useReaders = () =>
  useQuery({
    queryKey: ['readers'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/readers', { params: { path: { production: HERE } } }),
      ),
  })
