import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, client } from '../client'

/** Where the person of this page is signed in. */
export const useSessions = (wanted: Ref<boolean>) =>
  useQuery({
    queryKey: ['sessions'],
    queryFn: () => answered(client.GET('/api/session/all')),
    enabled: wanted,
    staleTime: 0,
  })
