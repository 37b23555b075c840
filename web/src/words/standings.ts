import type { Shapes } from '../api/client'
import { t } from './say'

/** A card's standing in the few words that stand under its verdict. */
export const STANDINGS: Record<Shapes['CardStanding'], string> = {
  cleared: t('standings.cleared'),
  empty: t('standings.empty'),
  'ready to sign': t('standings.readyToSign'),
  'waiting for a signature': t('standings.waitingForASignature'),
  'being offloaded': t('standings.beingOffloaded'),
  'handed back': t('standings.handedBack'),
  'not read since': t('standings.notReadSince'),
  'never read': t('standings.neverRead'),
  'files gone': t('standings.filesGone'),
  'not offloaded': t('standings.notOffloaded'),
  'not clear': t('standings.notClear'),
  'out of use': t('standings.outOfUse'),
  'set of finals': t('standings.finals'),
  package: t('standings.package'),
}
