import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, client } from '../client'

/** Whether whoever asks is asked for one-time codes. */
export const useCodes = (wanted: Ref<boolean>) =>
  useQuery({
    queryKey: ['codes'],
    queryFn: () => answered(client.GET('/api/session/codes')),
    enabled: wanted,
  })
