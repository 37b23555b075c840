import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What certificates are signed with, and were; the key in use first. */
export const useCertificateKeys = () =>
  useQuery({
    queryKey: ['keys'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/certificates/keys', {
          params: { path: { production: HERE } },
        }),
      ),
  })
