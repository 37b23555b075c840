import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'

/** What a link is for that somebody came by. */
export const useLink = (secret: string) =>
  useQuery({
    queryKey: ['link', secret],
    queryFn: () => answered(client.POST('/api/session/link/look', { body: { secret } })),
    retry: false,
    staleTime: Infinity,
  })
