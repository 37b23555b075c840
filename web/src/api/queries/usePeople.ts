import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

const here = { params: { path: { production: HERE } } }

/** The crew of this production. */
export const usePeople = () =>
  useQuery({
    queryKey: ['people'],
    queryFn: () => answered(client.GET('/api/productions/{production}/people', here)),
  })
