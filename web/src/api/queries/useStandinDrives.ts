import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, client } from '../client'

/** The demo's simulated drives; asked for while the drawer is open. */
export const useStandinDrives = (open: Ref<boolean>) =>
  useQuery({
    queryKey: ['standins', 'drives'],
    queryFn: () => answered(client.GET('/api/standins/drives')),
    enabled: open,
    retry: false,
  })
