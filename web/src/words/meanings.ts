/** What each word of a verdict means to whoever holds the card: for the legend. */
export const MEANINGS: readonly { verdict: string; means: string }[] = [
  {
    verdict: 'CLEAR',
    means:
      'It may go back and be formatted: somebody signed that each file on it is in enough copies, or was waived.',
  },
  { verdict: 'EMPTY', means: 'Nothing is on it, and nothing that was on it is missing. It may go back.' },
  {
    verdict: 'SIGN?',
    means:
      'Each file is in enough copies, or was waived by name. Somebody signs on Clearing, then it is clear.',
  },
  {
    verdict: 'NOT CLEAR',
    means: 'Keep it: something on it is not safe yet. The sentence beside it says what.',
  },
  {
    verdict: 'READ IT',
    means: 'It was never read, or not lately: nobody knows what is on it now. Put it into a reader.',
  },
  { verdict: 'WAIT', means: 'It is being offloaded: leave it where it is.' },
  {
    verdict: 'FILES GONE',
    means: 'Files that were on it are in no copy and gone from it. Do not touch it; ask.',
  },
  { verdict: 'PULLED', means: 'It left its reader in the middle of its offload. Put it back.' },
  { verdict: 'OUT', means: 'It was cleared and handed back. What is on it now is not known.' },
]
