import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/bench'
const ofCard = (card: number) => ({ params: { path: { production: HERE, card_id: card } } })
const ofStay = (stay: number) => ({ params: { path: { production: HERE, insertion_id: stay } } })

export interface Offload extends Omit<Shapes['StartIn'], 'take'> {
  card: number
  take: Shapes['TakeIn'] | null
}
export const useOffloadCard = () =>
  useAct(
    ({ card, ...body }: Offload) =>
      answered(client.POST(`${P}/cards/{card_id}/offload`, { ...ofCard(card), body })),
    'bench',
    'waterline',
  )

/** Have a reader let go of its card as soon as nothing reads it. */
export const useLetGo = () =>
  useAct((card: number) => answered(client.POST(`${P}/cards/{card_id}/release`, ofCard(card))), 'bench')

/** Look at a card in a reader again. */
export const useReadCard = () =>
  useAct((card: number) => answered(client.POST(`${P}/cards/{card_id}/read`, ofCard(card))), 'clearing')

/** Read a card whole, and compare it by content with everything ever taken. */
export const useCompareCard = () =>
  useAct((card: number) => answered(client.POST(`${P}/cards/{card_id}/compare`, ofCard(card))), 'contents')

export const useJoinChapters = () =>
  useAct(({ card, path }: { card: number; path: string }) =>
    answered(client.POST(`${P}/cards/{card_id}/join`, { ...ofCard(card), body: { path } })),
  )

/** The reader shows a folder inside the card: read the card from its root. */
export const useWholeCard = () =>
  useAct(
    (stay: number) => answered(client.POST(`${P}/insertions/{insertion_id}/whole`, ofStay(stay))),
    'bench',
  )

/** This is a new card. */
export const useIntroduceCard = () =>
  useAct(
    ({ stay, ...body }: Shapes['IntroduceIn'] & { stay: number }) =>
      answered(client.POST(`${P}/insertions/{insertion_id}/introduce`, { ...ofStay(stay), body })),
    'bench',
    'clearing',
    'waterline',
  )

/** This is a card that the ledger knows. */
export const useRecogniseCard = () =>
  useAct(
    ({ stay, label }: { stay: number; label: string }) =>
      answered(client.POST(`${P}/insertions/{insertion_id}/recognise`, { ...ofStay(stay), body: { label } })),
    'bench',
  )

/** Whether cards in a reader are offloaded by themselves. plan: only cards of this one */
export const useSetUnattended = () =>
  useAct(
    ({ reader, on, plan }: { reader: number; on: boolean; plan?: string }) =>
      answered(
        client.POST(`${P}/readers/{reader_id}/unattended`, {
          params: { path: { production: HERE, reader_id: reader } },
          body: { on, plan },
        }),
      ),
    'bench',
  )

/** Of an unknown card: it is none of ours, or it is after all. */
export const useSayNotOurs = () =>
  useAct(
    ({ stay, not }: { stay: number; not: boolean }) =>
      not
        ? answered(client.POST(`${P}/insertions/{insertion_id}/not-ours`, ofStay(stay)))
        : answered(client.DELETE(`${P}/insertions/{insertion_id}/not-ours`, ofStay(stay))),
    'bench',
    'waterline',
  )

/** One knows of a card that was taken out in the middle. */
export const useAcknowledgePull = () =>
  useAct(
    (offload: number) =>
      answered(
        client.POST(`${P}/offloads/{offload_id}/acknowledge`, {
          params: { path: { production: HERE, offload_id: offload } },
        }),
      ),
    'bench',
  )
