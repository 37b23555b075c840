import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

/** What a plan would make of a real card. plan: the id of the one that is changed */
export const usePlanExample = (plan: () => number, words: MaybeRefOrGetter<Shapes['PlanIn']>) =>
  useQuery({
    queryKey: ['example', plan, words],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/setup/plans/{plan_id}/example', {
          params: { path: { production: HERE, plan_id: plan() } },
          body: toValue(words),
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  })
