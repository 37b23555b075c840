import type { Shapes } from '../../api/client'
import { t } from '../../words/say'

/** Where a card is in its life, in the order of that life. */
export const LIVES: Record<Shapes['CardLife'], string> = {
  new: t('lives.new'),
  'with the camera': t('lives.withTheCamera'),
  waiting: t('lives.waiting'),
  'in a reader': t('lives.inAReader'),
  held: t('lives.held'),
  cleared: t('lives.cleared'),
  'handed back': t('lives.handedBack'),
  formatted: t('lives.formatted'),
  quarantined: t('lives.quarantined'),
  retired: t('lives.retired'),
  lost: t('lives.lost'),
  broken: t('lives.broken'),
  'set of finals': t('lives.finals'),
  package: t('lives.package'),
}
