import type { Shapes } from '../../api/client'
import { t } from '../../words/say'

/** What pictures of a working copy can be: the first ones are cut, the last one is looked at and sent. */
export const CODECS: { name: string; value: Shapes['Codec'] }[] = [
  { name: t('making.proresProxy'), value: 'prores_proxy' },
  { name: t('making.prores'), value: 'prores' },
  { name: t('making.dnxhrLb'), value: 'dnxhr_lb' },
  { name: t('making.dnxhrSq'), value: 'dnxhr_sq' },
  { name: t('making.h264'), value: 'h264' },
]
/** Lines of the picture. */
export const HEIGHTS: { name: string; value: number }[] = [
  { name: t('making.asRecorded'), value: 0 },
  ...[540, 720, 1080].map((value) => ({ name: t('making.lines', { lines: value }), value })),
]
export const codecName = (codec: Shapes['Codec']) =>
  CODECS.find(({ value }) => value === codec)?.name ?? codec
