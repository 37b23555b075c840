"""The offload as the station's worker runs it."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

import psycopg
from django.db import transaction
from django.db.models import Q, QuerySet
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.kit.models import Station
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.locks import is_held, try_lock
from ruggedraft.live.notify import connection_words
from ruggedraft.rolls.models import Roll, RollFile

from .acts.finish_feed import finish_feed
from .feeding import run as run_one_feed
from .joining import join_on_stores, note_joined
from .models import Feed, Offload
from .running import break_off, run


@app.task(name="offloads:run_offload")
def run_offload(offload_id: int) -> None:
    """A turn: of the runs that wait at this run's station the first one goes, whichever asked for the turn."""
    station = Offload.objects.select_related("station").get(pk=offload_id).station
    with _next_run(station) as offload:
        try:
            if offload:
                run(offload)
        except Exception as error:
            if offload:
                break_off(offload, error)
            raise
        finally:
            let_go()
    if offload:
        _go_on(offload)


def _go_on(offload: Offload) -> None:
    """A run that was paused and let go on before it had come to a stop: the turn asked for then found it taken."""
    if Offload.objects.filter(pk=offload.pk, finished_at=None, held_back=False).exists():
        run_offload.configure(queue=offload.station.name).defer(offload_id=offload.pk)


@contextmanager
def _next_run(station: Station) -> Iterator[Offload | None]:
    """The first run that may go and that nobody works on, kept from everybody else; None if there is none.

    The lock lives as long as this connection: a worker that dies lets go of it.
    """
    with psycopg.connect(**connection_words()) as ledger:
        for pk in open_runs(station).values_list("pk", flat=True):
            if not try_lock(ledger, _RUNS, pk):
                continue
            offload = open_runs(station).filter(pk=pk).first()
            if offload and _HERE.begin(pk):
                try:
                    yield offload
                finally:
                    _HERE.end(pk)
                return
        yield None


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


_HERE = _Here()
_RUNS = 0x5246


def open_runs(station: Station) -> QuerySet[Offload]:
    """Runs of a station that may go now, in their order."""
    going = Q(held_back=False) | Q(cancel_asked_at__isnull=False)
    runs = Offload.objects.filter(going, station=station, finished_at=None)
    return runs.select_related("roll", "card", "station").order_by("rank", "pk")


def feeds_queue(station: Station) -> str:
    """Feeding may take hours, and has a worker's lane of its own, so that no card waits for it."""
    return f"{station.name} feeds"


@app.task(name="offloads:run_feed")
def run_feed(feed_id: int) -> None:
    feed = Feed.objects.select_related("copy__store__device", "copy__roll", "offload", "station").get(pk=feed_id)
    try:
        run_one_feed(feed)
    except Exception as error:
        finish_feed(feed, None, f"it broke off ({error!r}); nothing it did is claimed")
        raise
    finally:
        let_go()


def resume_feeds(station: Station) -> None:
    """As `resume_offloads`."""
    waiting = ProcrastinateJob.objects.filter(task_name=run_feed.name, status__in=["todo", "doing"])
    queued = {job.args["feed_id"] for job in waiting}
    for feed in Feed.objects.filter(station=station, finished_at=None).exclude(pk__in=queued):
        run_feed.configure(queue=feeds_queue(station)).defer(feed_id=feed.pk)


@app.task(name="offloads:join_chapters")
def join_chapters(roll_id: int, files: list[int], name: str) -> None:
    roll = Roll.objects.get(pk=roll_id)
    by_id = RollFile.objects.in_bulk(files)
    told = join_on_stores(roll, [by_id[pk] for pk in files], name)
    with transaction.atomic():
        note_joined(roll, name, told, "")
    let_go()


def resume_offloads(station: Station) -> None:
    """Queue every run of a station that may go, that nobody works on and that no waiting job stands for.

    A job that is "doing" is no proof that somebody works on its run: the database may have been away when it ended.
    As often as anybody likes: a turn too many finds nothing to do.
    """
    waiting = ProcrastinateJob.objects.filter(task_name=run_offload.name, status="todo")
    queued = {job.args["offload_id"] for job in waiting}
    for offload in open_runs(station).exclude(pk__in=queued):
        if not _HERE.has(offload.pk) and not is_held(_RUNS, offload.pk):
            run_offload.configure(queue=station.name).defer(offload_id=offload.pk)
