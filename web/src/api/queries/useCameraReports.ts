import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** The reports that count, newest first, each held against the rolls as they are now. */
export const useCameraReports = () =>
  useQuery({
    queryKey: ['reports'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/camera-reports', {
          params: { path: { production: HERE } },
        }),
      ),
    enabled: seesWork,
  })

/** What the newest report that names a roll says of it; null where none does. */
export const useReportOn = (tag: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['reports', tag],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/camera-reports/rolls/{tag}', {
          params: { path: { production: HERE, tag: toValue(tag) } },
        }),
      ),
    enabled: seesWork,
  })
