import { t } from './say'

/** What a clip is. */
export const CLIP_KINDS: Record<string, string> = {
  picture: t('kinds.picture'),
  video: t('kinds.video'),
  sequence: t('kinds.sequence'),
  sound: t('kinds.sound'),
}
