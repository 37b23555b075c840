/** What each word of a verdict means to whoever holds the card: for the legend. */
export const MEANINGS: readonly { verdict: string; means: string }[] = [
  {
    verdict: 'CLEAR',
    means: 'It may go back and be formatted: signed for, and every file is in enough copies.',
  },
  { verdict: 'EMPTY', means: 'Nothing is on it, and nothing that was on it is missing. It may go back.' },
  {
    verdict: 'SIGN?',
    means: 'Every file is in enough copies. Somebody signs on Clearing, then it is clear.',
  },
  {
    verdict: 'NOT CLEAR',
    means: 'Keep it: something on it is not safe yet. The sentence beside it says what.',
  },
  { verdict: 'READ IT', means: 'Nothing speaks against it as it was last read. Put it into a reader.' },
  { verdict: 'WAIT', means: 'It is being offloaded: leave it where it is.' },
  {
    verdict: 'FILES GONE',
    means: 'Files that were on it are in no copy and gone from it. Do not touch it; ask.',
  },
  { verdict: 'PULLED', means: 'It left its reader in the middle of its offload. Put it back.' },
  { verdict: 'OUT', means: 'It was cleared and handed back. What is on it now is not known.' },
]
