import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { roughly } from '../../words/times'
import { VERDICTS } from '../../words/verdicts'

/** What a slot says: in large letters what is so, then in a few words why, then what comes next. */
export interface SlotWords {
  verdict: string
  standing: string
  next: string
}

const NEXT: Partial<Record<Shapes['CardStanding'], string>> = {
  cleared: 'hand it back',
  empty: 'hand it back',
  'ready to sign': 'sign for it',
  'waiting for a signature': 'one more signs',
  'files gone': 'say what became of them',
}

/** freeIn: seconds until the card can be taken out, while it runs or waits */
export function wordsOf(slot: Shapes['SlotOut'], freeIn: number | null | undefined): SlotWords {
  if (slot.trouble) return { verdict: 'NO READ', standing: 'cannot be read', next: 'try another reader' }
  if (!slot.card_id)
    return slot.not_ours_by
      ? { verdict: 'NOT OURS', standing: `says ${slot.not_ours_by}`, next: '' }
      : { verdict: 'WHOSE?', standing: 'unknown card', next: 'say which it is' }
  const run = slot.offload
  if (run && !run.finished_at) return ofRun(run, freeIn)
  const standing = slot.standing ?? ''
  return {
    verdict: slot.standing ? VERDICTS[slot.standing] : '',
    standing: standing === 'never read' ? 'being listed' : standing,
    next: nextOf(slot),
  }
}

function nextOf(slot: Shapes['SlotOut']): string {
  const act = slot.standing && NEXT[slot.standing]
  if (act) return act
  if (slot.proposal?.startable === 'ready') return `offload ${slot.proposal.tag}`
  return slot.proposal?.startable === 'refused' ? 'it may not go yet' : ''
}

function ofRun(run: Shapes['OffloadOut'], freeIn: number | null | undefined): SlotWords {
  const now = runProgress.get(run.id)
  const left = now?.left_s ?? freeIn
  const next = left === null || left === undefined ? '' : `free in ${roughly(left)}`
  if (run.state === 'paused')
    return { verdict: 'PAUSED', standing: 'nothing is claimed', next: 'let it go on' }
  if (run.state === 'stopping') return { verdict: 'STOPS', standing: 'stopping', next: '' }
  if (run.state === 'waiting') return { verdict: 'WAITS', standing: 'waits its turn', next }
  if (!now?.total || !now.stores.length) return { verdict: 'RUNS', standing: 'being offloaded', next }
  const least = Math.min(...now.stores.map((store) => store.verified))
  // all of it is only there once the run has ended, with its last look at the stores
  return { verdict: `${Math.min(99, Math.floor((100 * least) / now.total))} %`, standing: 'read back', next }
}
