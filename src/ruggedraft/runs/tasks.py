"""Runs as a station's workers carry them out."""

import psycopg
from procrastinate.contrib.django import app

from ruggedraft.core.runs import RunKind
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.notify import connection_words

from .kinds import how_to_run
from .models import Run, RunQueue
from .queue import HERE, TASK, begin_first, take_up_open_runs


@app.task(name=TASK)
def carry_out_first(run_id: int) -> None:
    """Carry out whichever run is first in the queue that this run stands in."""
    asked = Run.objects.select_related("station").filter(pk=run_id).first()
    if asked is None:  # a ledger that was emptied
        return
    with psycopg.connect(**connection_words()) as ledger:
        run = begin_first(asked.station, RunQueue(asked.queue), ledger)
        if run is None:
            return
        try:
            _carry_out(run)
        finally:
            HERE.end(run.pk)
            let_go()
    take_up_open_runs(run.station)  # those that waited for a device of this one, and this one where it was let go on


def _carry_out(run: Run) -> None:
    how = how_to_run(RunKind(run.kind))
    try:
        how.carry_out(run.pk)
    except Exception as error:
        how.break_off(run.pk, error)
        raise
