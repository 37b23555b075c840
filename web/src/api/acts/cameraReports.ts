import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/camera-reports'
const here = { params: { path: { production: HERE } } }

/** How a file would be read. content: in base64 */
export const useLookAtReport = () =>
  useAct((content: string) => answered(client.POST(`${P}/look`, { ...here, body: { content } })))

export const useTakeInReport = () =>
  useAct(
    (body: Shapes['ReportIn']) => answered(client.POST(P, { ...here, body })),
    'reports',
    'day',
    'stands',
  )

export const useWithdrawReport = () =>
  useAct(
    (report: number) =>
      answered(
        client.DELETE(`${P}/{report_id}`, { params: { path: { production: HERE, report_id: report } } }),
      ),
    'reports',
    'day',
    'stands',
  )
