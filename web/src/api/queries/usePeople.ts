import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'

export const usePeople = () =>
  useQuery({ queryKey: ['people'], queryFn: () => answered(client.GET('/api/people')) })
