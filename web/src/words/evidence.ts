import type { Shapes } from '../api/client'
import { t } from './say'

/** What was done to know that a copy agrees, from the weakest to the strongest. */
export const EVIDENCE: Record<Shapes['Level'], string> = {
  listed: t('evidence.listed'),
  written: t('evidence.written'),
  attested: t('evidence.attested'),
  'read back': t('evidence.readBack'),
}
