import { answered, client, type Shapes } from '../client'
import { asOneAct } from '../asking'
import { HERE } from '../here'
import { useAct } from './act'
import { t } from '../../words/say'

const P = '/api/productions/{production}/clearing/cards/{card_id}'
const ofCard = (card: number) => ({ params: { path: { production: HERE, card_id: card } } })
const PATIENCE_MS = 90_000
const AGAIN_MS = 700

type Signing = Shapes['SignedOut']

/** Ask until card and copies were looked at, or nobody looks. */
async function untilLookedAt(
  ask: () => Promise<Signing>,
  waiting: (forWhat: string[]) => void,
): Promise<Signing> {
  const until = Date.now() + PATIENCE_MS
  for (;;) {
    const said = await ask()
    if (said.state !== 'looking') return said
    waiting(said.waiting_for)
    if (Date.now() > until)
      throw new Error(t('clearing.nothingWasSignedNoStation', { waitingFor: said.waiting_for.join(', ') }))
    await new Promise((done) => setTimeout(done, AGAIN_MS))
  }
}

/** Have the stations look at a card and its copies now. */
export const useLookAtCard = () => useAct((card: number) => answered(client.POST(`${P}/look`, ofCard(card))))

/**
 * Sign that a card may be reused. The server wants card and copies looked at first: it is asked again until they were.
 * waiting: told what it waits for
 */
export const useSignClearance = (waiting: (forWhat: string[]) => void) =>
  useAct(
    ({ card, tag, digest }: { card: number; tag: string; digest: string }) => {
      const path = `/api/productions/${HERE}/clearing/cards/${card}/sign`
      const ask = () => answered(client.POST(`${P}/sign`, { ...ofCard(card), body: { tag, digest } }))
      return asOneAct(path, () => untilLookedAt(ask, waiting))
    },
    'clearing',
    'waterline',
    'tally',
  )

/** count, seen: how many files the person saw, in which listing; the server refuses if that has changed */
export const useWaiveLeft = () =>
  useAct(
    ({ card, ...body }: { card: number; reason: string; count: number; seen: string }) =>
      answered(client.POST(`${P}/waive-left`, { ...ofCard(card), body })),
    'clearing',
  )

export const useAnswerForGone = () =>
  useAct(
    ({ card, ...body }: { card: number; reason: string; count: number }) =>
      answered(client.POST(`${P}/gone`, { ...ofCard(card), body })),
    'bench',
    'clearing',
    'waterline',
  )

/** to: who has it now; may be empty */
export const useHandBack = () =>
  useAct(
    ({ card, to }: { card: number; to: string }) =>
      answered(client.POST(`${P}/hand-back`, { ...ofCard(card), body: { to } })),
    'clearing',
    'cards',
    'card',
  )

/** Say no instead of signing. digest: of the case as it was shown */
export const useRefuseToSign = () =>
  useAct(
    ({ card, ...body }: { card: number; reason: string; digest: string }) =>
      answered(client.POST(`${P}/refuse`, { ...ofCard(card), body })),
    'clearing',
  )

/** Take a card's last clearance back. */
export const useRevokeClearance = () =>
  useAct(
    ({ card, reason }: { card: number; reason: string }) =>
      answered(client.POST(`${P}/revoke`, { ...ofCard(card), body: { reason } })),
    'clearing',
    'waterline',
    'card',
  )

/** first, last: paths; every file from one to the other. count, seen: how many the person saw, in which listing */
export const useWaiveStretch = () =>
  useAct(
    ({ card, ...body }: Shapes['WaiveStretchIn'] & { card: number }) =>
      answered(client.POST(`${P}/waive-stretch`, { ...ofCard(card), body })),
    'clearing',
  )

/** On a roll, a card, or whatever a camera shot. */
export const usePlaceHold = () =>
  useAct(
    (body: Shapes['HoldIn']) =>
      answered(
        client.POST('/api/productions/{production}/clearing/holds', {
          params: { path: { production: HERE } },
          body,
        }),
      ),
    'clearing',
    'roll',
    'card',
    'cards',
  )

export const useLiftHold = () =>
  useAct(
    ({ hold, why }: { hold: number; why: string }) =>
      answered(
        client.DELETE('/api/productions/{production}/clearing/holds/{hold_id}', {
          params: { path: { production: HERE, hold_id: hold }, query: { why } },
        }),
      ),
    'clearing',
    'roll',
    'card',
    'cards',
  )

/** Take a card out of use. */
/** Say who has a card now, or that it is back. */
export const usePassCard = () =>
  useAct(
    ({ label, ...body }: Required<Shapes['HolderIn']> & { label: string }) =>
      answered(
        client.PUT('/api/productions/{production}/cards/{label}/holder', {
          params: { path: { production: HERE, label } },
          body,
        }),
      ),
    'clearing',
    'cards',
    'card',
    'where',
  )

export const useSetAside = () =>
  useAct(
    ({ card, ...body }: Shapes['AsideIn'] & { card: number }) =>
      answered(client.POST(`${P}/aside`, { ...ofCard(card), body })),
    'clearing',
    'cards',
    'card',
  )

/** Take it into use again. */
export const useUseAgain = () =>
  useAct(
    ({ card, why }: { card: number; why: string }) =>
      answered(
        client.DELETE(`${P}/aside`, {
          params: { path: { production: HERE, card_id: card }, query: { why } },
        }),
      ),
    'clearing',
    'cards',
    'card',
  )

/** Answer for a card that gave errors or slowed down. seen: every doubt as it was shown */
export const useTrustCard = () =>
  useAct(
    ({ card, ...body }: Shapes['TrustIn'] & { card: number }) =>
      answered(client.POST(`${P}/trust`, { ...ofCard(card), body })),
    'clearing',
    'cards',
    'card',
  )

/** Have files that are safe elsewhere taken off a card. count, digest: how many were shown, of which case */
export const useTakeOff = () =>
  useAct(
    ({ label, ...body }: Shapes['RemovalIn'] & { label: string }) =>
      answered(
        client.POST('/api/productions/{production}/cards/{label}/removal', {
          params: { path: { production: HERE, label } },
          body,
        }),
      ),
    'card',
  )
