import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

/** What another rule would change; nothing is asked while nothing of it is another one. */
export const useRuleEffect = (wanted: MaybeRefOrGetter<Shapes['RuleWanted']>) =>
  useQuery({
    queryKey: ['effect', wanted],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/setup/rule/effect', {
          params: { path: { production: HERE } },
          body: toValue(wanted),
        }),
      ),
    enabled: () => Object.keys(toValue(wanted)).length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  })
