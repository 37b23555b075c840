"""How a run begins and ends in the ledger. Until the transaction that ends it commits, it has claimed nothing."""

from ruggedraft.core.runs import RunEnd
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from .models import Run


def note_start(run: Run) -> None:
    """A worker took the run; only the first time is kept."""
    Run.objects.filter(pk=run.pk, started_at=None).update(started_at=now())
    changed(Topic.READERS)


def still_open(run: Run) -> bool:
    """Whether a run may be ended: nobody did it yet. First in its transaction; locks the production and the run."""
    hold_still(run.roll.production_id)
    return Run.objects.select_for_update(no_key=True).filter(pk=run.pk, finished_at=None).exists()


def end_run(run: Run, end: RunEnd, outcome: str, **detail: object) -> None:
    """Note that a run has ended, with a row of the journal. Inside the caller's transaction, after `still_open`.

    outcome: a sentence. detail: figures for the journal
    """
    Run.objects.filter(pk=run.pk).update(finished_at=now(), end=end, outcome=outcome)
    write(
        f"finish {run.kind}",
        run.roll.tag,
        outcome,
        person=None,
        origin=run.station.name,
        detail=detail,
        production=run.roll.production_id,
    )
    changed(
        Topic.ROLLS,
        Topic.READERS,
        Topic.CARDS,
        rolls=[run.roll.tag],
        cards=[run.roll.card.label],
        production=run.roll.production_id,
    )
