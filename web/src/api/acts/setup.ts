import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/setup'
const here = { params: { path: { production: HERE } } }

export const useChangeProduction = () =>
  useAct(
    (body: Shapes['ProductionIn']) => answered(client.PUT(`${P}/production`, { ...here, body })),
    'setup',
  )

/** Begin another production; its name in addresses comes back. */
export const useOpenProduction = () =>
  useAct((body: Shapes['OpenIn']) => answered(client.POST(`${P}/productions`, { ...here, body })), 'me')

/** Close this production, or open it again. */
export const useCloseProduction = () =>
  useAct(
    (close: boolean) => answered(close ? client.POST(`${P}/close`, here) : client.POST(`${P}/open`, here)),
    'setup',
    'me',
  )

/** Sign certificates with another key from now on. */
export const useNewKey = () =>
  useAct(() => answered(client.POST('/api/productions/{production}/certificates/keys', here)), 'keys')

/** Say that a card is another camera's from now on. */
export const useGiveCard = () =>
  useAct(
    ({ card, ...body }: Shapes['GivenIn'] & { card: number }) =>
      answered(
        client.PUT('/api/productions/{production}/clearing/cards/{card_id}/camera', {
          params: { path: { production: HERE, card_id: card } },
          body,
        }),
      ),
    'cards',
  )

/** Parts that are left out stay as they are. */
export const useChangeRule = () =>
  useAct((body: Shapes['RuleIn']) => answered(client.PATCH(`${P}/rule`, { ...here, body })), 'setup')

/** Ask something else of a camera, a plan or a roll; nothing else any more where there are no parts. */
export const useChangeException = () =>
  useAct(
    (body: Shapes['RuleExceptionIn']) => answered(client.PUT(`${P}/rule/exceptions`, { ...here, body })),
    'setup',
    'effect',
  )

export const useAddCamera = () =>
  useAct((body: Shapes['CameraIn']) => answered(client.POST(`${P}/cameras`, { ...here, body })), 'setup')

export const useChangeCamera = () =>
  useAct(
    ({ letter, ...body }: Shapes['CameraWords'] & { letter: string }) =>
      answered(client.PUT(`${P}/cameras/{letter}`, { params: { path: { production: HERE, letter } }, body })),
    'setup',
  )

export const useSaveRig = () =>
  useAct((body: Shapes['RigIn']) => answered(client.POST(`${P}/rigs`, { ...here, body })), 'setup')

/** id: of the plan to change; none for a new one */
export const useSavePlan = () =>
  useAct(
    ({ id, ...body }: Shapes['PlanIn'] & { id?: number | null }) =>
      id
        ? answered(
            client.PUT(`${P}/plans/{plan_id}`, {
              params: { path: { production: HERE, plan_id: id } },
              body,
            }),
          )
        : answered(client.POST(`${P}/plans`, { ...here, body })),
    'setup',
  )

/** How far a camera's clock is ahead of the true time, and for which of its times. */
export const useSetClock = () =>
  useAct(
    ({ camera, ...body }: Shapes['ClockIn'] & { camera: string }) =>
      answered(
        client.POST('/api/productions/{production}/bench/cameras/{letter}/clock', {
          params: { path: { production: HERE, letter: camera } },
          body,
        }),
      ),
    'contents',
  )
