import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What is plugged into the machine of the server; asked again as drives come and go. */
export const useVolumes = () =>
  useQuery({
    queryKey: ['volumes'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/stores/volumes', {
          params: { path: { production: HERE } },
        }),
      ),
    refetchInterval: 4_000,
  })
