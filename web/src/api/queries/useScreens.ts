import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** Screens that show this production with nobody signed in. */
export const useScreens = (wanted: Ref<boolean>) =>
  useQuery({
    queryKey: ['screens'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/screens', { params: { path: { production: HERE } } }),
      ),
    enabled: () => wanted.value && seesWork.value,
  })
