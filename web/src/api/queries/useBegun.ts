import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'

/** Whether somebody has begun this ledger, and whether it is the demo's. */
export const useBegun = () =>
  useQuery({
    queryKey: ['begun'],
    queryFn: () => answered(client.GET('/api/begin')),
    staleTime: Infinity,
  })
