import { t } from './say'
import { WORDS } from './verdicts'

/** What each word of a verdict means to whoever holds the card: for the legend. */
export const MEANINGS: readonly { verdict: string; means: string }[] = [
  { verdict: WORDS.clear, means: t('meanings.clear') },
  { verdict: WORDS.empty, means: t('meanings.empty') },
  { verdict: WORDS.sign, means: t('meanings.sign') },
  { verdict: WORDS.notClear, means: t('meanings.notClear') },
  { verdict: WORDS.readIt, means: t('meanings.readIt') },
  { verdict: WORDS.wait, means: t('meanings.wait') },
  { verdict: WORDS.filesGone, means: t('meanings.filesGone') },
  { verdict: WORDS.pulled, means: t('meanings.pulled') },
  { verdict: WORDS.keep, means: t('meanings.keep') },
  { verdict: WORDS.finals, means: t('meanings.finals') },
  { verdict: WORDS.package, means: t('meanings.package') },
  { verdict: WORDS.out, means: t('meanings.out') },
]
