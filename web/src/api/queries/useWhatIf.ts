import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

export interface Loss {
  of: Shapes['LossOf']
  name: string
}

/** What would be lost with a device, a place, or somebody's bag; asked for while one is chosen. */
export const useWhatIf = (loss: MaybeRefOrGetter<Loss | undefined>) =>
  useQuery({
    queryKey: ['whatif', loss],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/stores/what-if', {
          params: { path: { production: HERE }, query: toValue(loss) ?? { of: 'device', name: '' } },
        }),
      ),
    enabled: computed(() => toValue(loss) !== undefined),
    placeholderData: keepPreviousData,
    retry: false,
  })
