import { answered, client } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const ofRun = (run: number) => ({ params: { path: { production: HERE, run_id: run } } })

export const useCancelRun = () =>
  useAct(
    (run: number) => answered(client.POST('/api/productions/{production}/runs/{run_id}/cancel', ofRun(run))),
    'bench',
    'roll',
    'returns',
  )

export const usePauseRun = () =>
  useAct(
    (run: number) => answered(client.POST('/api/productions/{production}/runs/{run_id}/pause', ofRun(run))),
    'queue',
    'bench',
  )

export const useResumeRun = () =>
  useAct(
    (run: number) => answered(client.POST('/api/productions/{production}/runs/{run_id}/resume', ofRun(run))),
    'queue',
    'bench',
  )

/** ids: every run that waits at the station, first to go first */
export const useOrderRuns = () =>
  useAct(
    ({ station, ids }: { station: string; ids: number[] }) =>
      answered(
        client.PUT('/api/productions/{production}/bench/queue/{station}', {
          params: { path: { production: HERE, station } },
          body: { ids },
        }),
      ),
    'queue',
  )
