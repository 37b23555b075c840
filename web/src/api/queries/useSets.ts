import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Sets for discs and tapes, newest first, and the media that are known. */
export const useSets = () =>
  useQuery({
    queryKey: ['sets'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/sets', { params: { path: { production: HERE } } })),
  })
