import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** What every store holds by day and camera, and when it will be full. */
export const useRoom = () =>
  useQuery({
    queryKey: ['room'],
    enabled: seesWork,
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/stores/room', { params: { path: { production: HERE } } }),
      ),
  })
