import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** Who shows this production now. A server that died tells nobody that they are gone: it is asked again and again. */
export const useHere = () =>
  useQuery({
    queryKey: ['here'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/people/here', { params: { path: { production: HERE } } }),
      ),
    enabled: seesWork,
    refetchInterval: 60_000,
  })
