import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

const here = { params: { path: { production: HERE } } }

/** What was handed over, and what of it nobody has taken over. */
export const useShifts = () =>
  useQuery({
    queryKey: ['shifts'],
    queryFn: () => answered(client.GET('/api/productions/{production}/shifts', here)),
    enabled: seesWork,
  })

/** What would be handed over now. */
export const useStandsNow = () =>
  useQuery({
    queryKey: ['stands'],
    queryFn: () => answered(client.GET('/api/productions/{production}/shifts/now', here)),
  })
