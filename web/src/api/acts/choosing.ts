import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/choosing'
const ofRoll = (tag: string) => ({ params: { path: { production: HERE, tag } } })

export const useMarkClip = () =>
  useAct(
    ({ tag, ...body }: Shapes['MarkIn'] & { tag: string }) =>
      answered(client.POST(`${P}/rolls/{tag}/marks`, { ...ofRoll(tag), body })),
    'choosing',
  )

export const useTakeMarkBack = () =>
  useAct(
    (mark: number) =>
      answered(
        client.DELETE(`${P}/marks/{mark_id}`, { params: { path: { production: HERE, mark_id: mark } } }),
      ),
    'choosing',
  )

/** Waive what you dropped of a roll, in your name. */
export const useWaiveMine = () =>
  useAct(
    ({ tag, ...body }: Shapes['WaiveMineIn'] & { tag: string }) =>
      answered(client.POST(`${P}/rolls/{tag}/waivers`, { ...ofRoll(tag), body })),
    'choosing',
    'roll',
  )

/** Have every frame of a roll's recordings decoded, behind everything else. */
export const useAskDecoding = () =>
  useAct((tag: string) => answered(client.POST(`${P}/rolls/{tag}/decoding`, ofRoll(tag))), 'choosing')
