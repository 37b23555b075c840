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

/** Have a light copy made of a clip, where it was forgotten to save room; where it was never made, it is made anyway. */
export const wantLight = (tag: string, clip: Shapes['RollClip']) =>
  client.GET('/api/productions/{production}/footage/rolls/{tag}/clips/{file_id}/{kind}', {
    params: { path: { production: HERE, tag, file_id: clip.id, kind: 'light' } },
  })

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
