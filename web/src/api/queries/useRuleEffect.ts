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

/** The same for what would be asked of a camera, a plan or a roll alone. */
export const useExceptionEffect = (
  wanted: MaybeRefOrGetter<{ on: Shapes['RuledIn']; parts: Shapes['RuleWanted'] } | undefined>,
) =>
  useQuery({
    queryKey: ['effect', 'exception', wanted],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/setup/rule/exceptions/effect', {
          params: { path: { production: HERE } },
          body: { reason: '', parts: null, on: { kind: 'camera', name: '' }, ...toValue(wanted) },
        }),
      ),
    enabled: () => toValue(wanted) !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  })
