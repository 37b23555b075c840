import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'

export const useMe = () =>
  useQuery({ queryKey: ['me'], queryFn: () => answered(client.GET('/api/session')), staleTime: Infinity })
