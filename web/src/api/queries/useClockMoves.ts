import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

/** Which cards and days a camera's clock would move, if it was said to be so; nothing is asked while nothing is said. */
export const useClockMoves = (camera: string, said: MaybeRefOrGetter<Shapes['ClockIn'] | undefined>) =>
  useQuery({
    queryKey: ['moves', camera, said],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/bench/cameras/{letter}/clock/moves', {
          params: { path: { production: HERE, letter: camera } },
          body: toValue(said) ?? { ahead_s: 0 },
        }),
      ),
    enabled: () => toValue(said) !== undefined,
    retry: false,
  })
