import { answered, client } from '../client'
import { useAct } from './act'

/** What one more station joins with. */
export const useTicket = () => useAct(() => answered(client.POST('/api/stations/tickets')), 'stations')

export const useTurnAway = () =>
  useAct(
    (name: string) => answered(client.DELETE('/api/stations/{name}', { params: { path: { name } } })),
    'stations',
  )
