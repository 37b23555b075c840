import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

export const useBench = () =>
  useQuery({
    queryKey: ['bench'],
    enabled: seesWork,
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/bench', { params: { path: { production: HERE } } })),
    // a worker that dies says nothing: whether it is there is asked for as long as a run is under way
    refetchInterval: (query) =>
      query.state.data?.slots.some((slot) => slot.offload && !slot.offload.finished_at) ? 10_000 : false,
  })
