import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** What people and decoders said of a card's clips that speaks against giving it back. */
export const useAgainst = (card: MaybeRefOrGetter<number | undefined>) =>
  useQuery({
    queryKey: ['against', card],
    enabled: computed(() => seesWork.value && toValue(card) !== undefined),
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/choosing/cards/{card_id}', {
          params: { path: { production: HERE, card_id: toValue(card) ?? 0 } },
        }),
      ),
    retry: false,
  })
