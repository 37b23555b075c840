import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'

export const useStandinCards = (there: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['standins'],
    queryFn: () => answered(client.GET('/api/standins/cards')),
    enabled: () => toValue(there),
  })
