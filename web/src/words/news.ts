import type { Shapes } from '../api/client'
import { t } from './say'

/** Kinds of news and ways of telling, in the words that people see. */
export const NEWS_KINDS: Record<Shapes['NewsKind'], string> = {
  trouble: t('news.trouble'),
  'below the line': t('news.below'),
  'check failed': t('news.check'),
  'second signature': t('news.sign'),
  'nearly full': t('news.full'),
  'card free': t('news.free'),
  'feed behind': t('news.behind'),
  'roll verified': t('news.verified'),
}
export const NEWS_WAYS: Record<Shapes['Way'], string> = {
  sound: t('news.sound'),
  'browser notification': t('news.browser'),
  'e-mail': t('news.mail'),
}
