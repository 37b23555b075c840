import { useInfiniteQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { paged } from './paged'

/** The clips of a roll, with what there is to be seen of them. */
export const useClips = (tag: MaybeRefOrGetter<string>) =>
  useInfiniteQuery({
    queryKey: ['clips', tag],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/footage/rolls/{tag}/clips', {
          params: { path: { production: HERE, tag: toValue(tag) }, query: { after: pageParam } },
        }),
      ),
    ...paged,
    retry: false,
  })

/** Have a light copy made again of a clip, where it was forgotten to save room. */
export const wantLight = (tag: string, clip: Shapes['RollClip']) =>
  client.GET('/api/productions/{production}/footage/rolls/{tag}/clips/{file_id}/{kind}', {
    params: { path: { production: HERE, tag, file_id: clip.id, kind: 'light' } },
  })

/** A place in a picture, each of 0 to 1, from the left and from the top. */
export interface Spot {
  x: number
  y: number
}
const PIXELS = '/api/productions/{production}/footage/rolls/{tag}/clips/{file_id}/pixels'

/** Where a window on a clip is, pixel for pixel, whose middle is at a spot; seconds: within the frame that is meant. */
export const pixelsOf = (tag: string, clip: Shapes['RollClip'], { x, y }: Spot, seconds: number) =>
  `/api/productions/${HERE}/footage/rolls/${encodeURIComponent(tag)}/clips/${String(clip.id)}/pixels` +
  `?x=${x.toFixed(4)}&y=${y.toFixed(4)}&at=${seconds.toFixed(4)}`

/** Why that could not be shown; empty where it can. */
export async function whyNoPixels(
  tag: string,
  clip: Shapes['RollClip'],
  spot: Spot,
  seconds: number,
): Promise<string> {
  const path = { production: HERE, tag, file_id: clip.id }
  const { error } = await client.GET(PIXELS, {
    params: { path, query: { ...spot, at: seconds } },
    parseAs: 'blob',
  })
  return error?.title ?? ''
}

/** Where a picture of a clip is, of a kind or of those that stand in for it; nothing where there is none. */
export function pictureOf(
  tag: string,
  clip: Shapes['RollClip'],
  ...kinds: readonly Shapes['PictureKind'][]
): string | undefined {
  const base = `/api/productions/${HERE}/footage`
  const kind = kinds.find((one) => clip.pictures[one])
  if (kind)
    return `${base}/rolls/${encodeURIComponent(tag)}/clips/${String(clip.id)}/${kind}?of=${clip.pictures[kind] ?? ''}`
  return clip.preview ? `${base}/${String(clip.preview)}/preview` : undefined
}
