import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { roughly } from '../../words/times'
import { STANDINGS } from '../../words/standings'
import { VERDICTS } from '../../words/verdicts'
import { t } from '../../words/say'

/** What a slot says: in large letters what is so, then in a few words why, then what comes next. */
export interface SlotWords {
  verdict: string
  standing: string
  next: string
}

const NEXT: Partial<Record<Shapes['CardStanding'], string>> = {
  cleared: t('standing.handItBack'),
  empty: t('standing.handItBack'),
  'ready to sign': t('standing.signForIt'),
  'waiting for a signature': t('standing.oneMoreSigns'),
  'files gone': t('standing.sayWhatBecameOfThem'),
}

/** freeIn: seconds until the card can be taken out, while it runs or waits */
export function wordsOf(slot: Shapes['SlotOut'], freeIn: number | null | undefined): SlotWords {
  if (slot.trouble)
    return {
      verdict: t('standing.noRead'),
      standing: t('standing.cannotBeRead'),
      next: t('standing.tryAnotherReader'),
    }
  if (slot.elsewhere) return { verdict: t('standing.notHere'), standing: t('standing.ofAnother'), next: '' }
  if (!slot.card_id && slot.kind === 'package')
    return { verdict: VERDICTS.package, standing: STANDINGS.package, next: t('standing.lookAtIt') }
  if (!slot.card_id)
    return slot.not_ours_by
      ? {
          verdict: t('standing.notOurs'),
          standing: t('standing.says', { person: slot.not_ours_by }),
          next: '',
        }
      : {
          verdict: t('standing.whose'),
          standing: t('standing.unknownCard'),
          next: t('standing.sayWhichItIs'),
        }
  const run = slot.offload
  if (run && !run.finished_at) return ofRun(run, freeIn)
  const standing = slot.standing
  return {
    verdict: slot.standing ? VERDICTS[slot.standing] : '',
    standing: !standing ? '' : standing === 'never read' ? t('standing.beingListed') : STANDINGS[standing],
    next: nextOf(slot),
  }
}

function nextOf(slot: Shapes['SlotOut']): string {
  const act = slot.standing && NEXT[slot.standing]
  if (act) return act
  if (slot.proposal?.startable === 'ready') return t('standing.offload', { tag: slot.proposal.tag })
  return slot.proposal?.startable === 'refused' ? t('standing.itMayNotGoYet') : ''
}

function ofRun(run: Shapes['OffloadOut'], freeIn: number | null | undefined): SlotWords {
  const now = runProgress.get(run.id)
  const left = now?.left_s ?? freeIn
  const next = left === null || left === undefined ? '' : t('standing.freeIn', { left: roughly(left) })
  if (run.state === 'paused')
    return {
      verdict: t('standing.paused'),
      standing: t('standing.nothingIsClaimed'),
      next: t('standing.letItGoOn'),
    }
  if (run.state === 'stopping')
    return { verdict: t('standing.stops'), standing: t('standing.stopping'), next: '' }
  if (run.state === 'waiting')
    return { verdict: t('standing.waits'), standing: t('standing.waitsItsTurn'), next }
  if (!now?.total || !now.stores.length)
    return { verdict: t('standing.runs'), standing: t('standing.beingOffloaded'), next }
  const least = Math.min(...now.stores.map((store) => store.verified))
  // all of it is only there once the run has ended, with its last look at the stores
  return {
    verdict: `${Math.min(99, Math.floor((100 * least) / now.total))} %`,
    standing: t('standing.readBack'),
    next,
  }
}
