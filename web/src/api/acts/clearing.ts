import { answered, client } from '../client'
import { HERE } from '../here'
import { useAct } from './act'
import { t } from '../../words/say'

const P = '/api/productions/{production}/clearing/cards/{card_id}'
const ofCard = (card: number) => ({ params: { path: { production: HERE, card_id: card } } })
const PATIENCE_MS = 90_000
const AGAIN_MS = 700

/** Have the stations look at a card and its copies now. */
export const useLookAtCard = () => useAct((card: number) => answered(client.POST(`${P}/look`, ofCard(card))))

/**
 * Sign that a card may be reused. The server wants card and copies looked at first: it is asked again until they were.
 * waiting: told what it waits for
 */
export const useSignClearance = (waiting: (forWhat: string[]) => void) =>
  useAct(
    async ({ card, tag, digest }: { card: number; tag: string; digest: string }) => {
      const until = Date.now() + PATIENCE_MS
      for (;;) {
        const said = await answered(client.POST(`${P}/sign`, { ...ofCard(card), body: { tag, digest } }))
        if (said.state !== 'looking') return said
        waiting(said.waiting_for)
        if (Date.now() > until)
          throw new Error(
            t('clearing.nothingWasSignedNoStation', { waitingFor: said.waiting_for.join(', ') }),
          )
        await new Promise((done) => setTimeout(done, AGAIN_MS))
      }
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

export const useHandBack = () =>
  useAct((card: number) => answered(client.POST(`${P}/hand-back`, ofCard(card))), 'clearing')
