"""The queue of runs at a station: adding to it, and seeing to it that every open run is taken up by a worker."""

import threading
from collections.abc import Sequence
from dataclasses import dataclass

import psycopg
from django.db import transaction
from django.db.models import Max, Q, QuerySet
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued

from ruggedraft.core.runs import RunKind
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.locks import held, is_held, try_lock

from .models import Run, RunQueue
from .sharing import devices_of, sharing

TASK = "runs:carry_out_first"
_RUNS = 0x5246


@dataclass(frozen=True)
class Aside:
    """How a run goes that nobody waits for: among those that no card waits for, and no faster than `rate`.

    because: what has it done, as a clause. rate: bytes a second; None: as fast as it goes
    """

    rate: int | None
    because: str


def add_to_queue(run: Run, aside: Aside | None = None) -> None:
    """Save a new run as the last in its station's queue. Inside the caller's transaction."""
    last = Run.objects.filter(station_id=run.station_id).aggregate(last=Max("rank"))["last"] or 0
    run.kind, run.queue, run.rank, run.asked_at = run.KIND, run.QUEUE, last + 1, now()
    if aside:
        run.queue, run.rate = RunQueue.FEEDS, aside.rate
    run.save()
    ask_for_worker(run)


def ask_for_worker(run: Run) -> None:
    """Have a worker of the run's station come; at most one such job waits for a run."""
    job = app.configure_task(TASK, queue=queue_name(run.station, RunQueue(run.queue)), queueing_lock=f"run {run.pk}")
    try:
        with transaction.atomic():  # a job that is refused must not end the caller's transaction
            job.defer(run_id=run.pk)
    except AlreadyEnqueued:
        return


def queue_name(station: Station, queue: RunQueue) -> str:
    """The name under which its jobs wait."""
    return station.name if queue is RunQueue.CARDS else f"{station.name} {queue.value}"


def of_card(kind: RunKind, card_id: int) -> str:
    """The subject of a run of a card: of each kind there is one open at a time."""
    return f"{kind.value} of card {card_id}"


def is_open(subject: str) -> bool:
    """Whether there is a run of this subject that has not ended."""
    return Run.objects.filter(subject=subject, finished_at=None).exists()


def open_runs(station: Station) -> QuerySet[Run]:
    """Runs of a station that may go now, in their order."""
    going = Q(held_back=False) | Q(cancel_asked_at__isnull=False)
    return Run.objects.filter(going, station=station, finished_at=None).order_by("rank", "pk")


def take_up_open_runs(station: Station) -> int:
    """Have a worker come for every run of a station that may go and that nobody works on. May be called at any time.

    A job that is "doing" is no proof that somebody works on its run: the database may have been away when it ended.
    Returns how many such runs there are.
    """
    runs = list(open_runs(station).select_related("station"))
    for run in runs:
        if not HERE.has(run.pk) and not is_held(_RUNS, run.pk):
            ask_for_worker(run)
    return len(runs)


class _Here:
    """The runs that this process works on. A database that goes away lets go of their locks, and they go on."""

    def __init__(self) -> None:
        self._runs: set[int] = set()
        self._lock = threading.Lock()

    def begin(self, run: int) -> bool:
        with self._lock:
            fresh = run not in self._runs
            self._runs.add(run)
            return fresh

    def end(self, run: int) -> None:
        with self._lock:
            self._runs.discard(run)

    def has(self, run: int) -> bool:
        with self._lock:
            return run in self._runs


HERE = _Here()


_choosing = threading.Lock()
"""Of a station's workers one chooses at a time, so that each reckons with what the others have begun."""


def begin_first(station: Station, queue: RunQueue, ledger: psycopg.Connection) -> Run | None:
    """Take the first run of a queue that may go and that nobody works on, or None. End it with `HERE.end`.

    Of the cards' runs, one that shares no device with others which cannot bear it.
    ledger: a connection that lives as long as the work. The run's lock is bound to it, so a worker that dies lets go.
    """
    with _choosing:
        for run in _may_begin(list(open_runs(station).filter(queue=queue)), queue):
            if not try_lock(ledger, _RUNS, run.pk):
                continue
            again = open_runs(station).filter(queue=queue, pk=run.pk).first()
            if again and HERE.begin(run.pk):
                return again
    return None


def _may_begin(runs: Sequence[Run], queue: RunQueue) -> list[Run]:
    if queue is not RunQueue.CARDS:
        return list(runs)
    taken = held(_RUNS)
    waiting = [run for run in runs if run.pk not in taken and not HERE.has(run.pk)]
    going = [run for run in runs if run not in waiting]
    places = sharing().may_begin(devices_of(waiting), devices_of(going))
    return [waiting[place] for place in places]
