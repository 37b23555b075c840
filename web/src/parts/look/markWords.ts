import type { Shapes } from '../../api/client'
import { t } from '../../words/say'

export type MarkKind = Shapes['MarkKind']

/** Kinds of trouble, in the order in which they are offered. */
export const TROUBLES = [
  'soft',
  'exposure',
  'dropout',
  'corrupt',
  'no_sound',
  'bad_sound',
  'other',
] as const satisfies readonly MarkKind[]

export const MARK_WORDS: Record<MarkKind, string> = {
  keep: t('marks.keep'),
  drop: t('marks.drop'),
  seen: t('marks.seen'),
  soft: t('marks.soft'),
  exposure: t('marks.exposure'),
  dropout: t('marks.dropout'),
  corrupt: t('marks.corrupt'),
  no_sound: t('marks.noSound'),
  bad_sound: t('marks.badSound'),
  other: t('marks.other'),
}
