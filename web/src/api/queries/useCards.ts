import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Every card of this production's cameras. */
export const useCards = () =>
  useQuery({
    queryKey: ['cards'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/clearing/cards', {
          params: { path: { production: HERE } },
        }),
      ),
  })
