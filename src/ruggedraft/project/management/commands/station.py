import asyncio
import contextlib
import os
import signal
import sys
import threading
import time
from typing import Any

from asgiref.sync import async_to_sync
from django.core.management.base import BaseCommand, CommandError, CommandParser
from procrastinate.contrib.django import app
from procrastinate.exceptions import UniqueViolation

from ruggedraft.clearing.releasing import let_cards_go
from ruggedraft.clearing.unattended import take_up_unattended
from ruggedraft.intake.acts.note_readers import forget_stays
from ruggedraft.intake.watching import look, watch_readers
from ruggedraft.journal.clock import follow_ledger, now
from ruggedraft.keywords.writing import write_due
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import Hold, be_the_only_one, looks_queue, readings_queue
from ruggedraft.live.letting_go import let_go
from ruggedraft.offloads.after import go_after
from ruggedraft.pictures.caring import keep_within, take_in_parcels
from ruggedraft.pictures.making import decode_due, lighten_next, make_due
from ruggedraft.rolls.acts.look_at_copy import look_at_the_oldest
from ruggedraft.rolls.names import keep_names
from ruggedraft.runs.models import RunQueue
from ruggedraft.runs.queue import CARDS_SIDE_BY_SIDE, queue_name, take_up_open_runs
from ruggedraft.upkeep.keeping_up import keep_up

_GRACE = 4.0  # seconds
_AFTER_S = 3.0
_LOOK_AFTER_S = 10.0
_PICTURES_S, _AFTER_TROUBLE_S = 5.0, 60.0
_FEEL_S = 3.0
_SIDE_BY_SIDE = {RunQueue.CARDS: CARDS_SIDE_BY_SIDE, RunQueue.FEEDS: 1, RunQueue.MAKING: 1}
"""So many runs of each queue at a time."""


def _look_after_cards(station: Station) -> None:
    take_up_unattended(station)
    let_cards_go(station)


class Command(BaseCommand):
    help = "Run a station: watch its readers and stores, and do the work on its queue, until it is told to stop."
    requires_system_checks = ()  # `prepare` has made them; they read the whole web server

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="the station's name, which is also its queue's")

    def handle(self, *args: Any, name: str, **options: Any) -> None:
        station, _ = Station.objects.get_or_create(name=name)
        hold = self._be_the_only_one(station)
        threading.Thread(target=self._end_when_lost, args=(station, hold), daemon=True).start()
        Station.objects.filter(pk=station.pk).update(clock_off_s=follow_ledger())
        queues = {queue_name(station, queue): count for queue, count in _SIDE_BY_SIDE.items()} | {
            looks_queue(station): 2,
            readings_queue(station): 1,
        }
        for queue in queues:
            _take_up_interrupted_work(queue)
        forget_stays(station)
        self._look_first(station)
        take_up_open_runs(station)
        stop = threading.Event()
        threading.Thread(target=self._look_after_runs, args=(station, stop), daemon=True).start()
        threading.Thread(target=self._make_pictures, args=(station, stop), daemon=True).start()
        threading.Thread(target=self._go_after, args=(station, stop), daemon=True).start()
        watcher = threading.Thread(
            target=watch_readers, args=(station, stop, self._say, _look_after_cards), daemon=True
        )
        watcher.start()
        try:
            asyncio.run(_work(queues))
        finally:
            stop.set()
            watcher.join(5)

    def _look_after_runs(self, station: Station, stop: threading.Event) -> None:
        """A run whose job failed without ending it, say while the database was away, is taken up again.

        And one copy at a time is looked at, so that what somebody deletes by mistake is noticed the same hour; and what
        is to be done by itself is begun. The server's own station also keeps names of files, so that they are found.
        """
        while not stop.wait(_LOOK_AFTER_S):
            try:
                take_up_open_runs(station)
                look_at_the_oldest(station)
                keep_up(station)
                write_due(station)
                if not station.role:
                    keep_names()
            except Exception as error:  # the database may still be away
                self._say(error)
            finally:
                let_go()

    def _go_after(self, station: Station, stop: threading.Event) -> None:
        """Apart from all else: a program of somebody's may take as long as it is let."""
        while not stop.wait(_AFTER_S):
            try:
                go_after(station)
            except Exception as error:  # the database may be away
                self._say(error)
            finally:
                let_go()

    def _make_pictures(self, station: Station, stop: threading.Event) -> None:
        """Behind everything else; the server's own station also sees to where they are kept."""
        wait = _PICTURES_S
        while not stop.wait(wait):
            wait = _PICTURES_S
            try:
                make_due(station, stop)
                decode_due(station, stop)
                if lighten_next(station, stop):
                    wait = 0.0
                if not station.role:
                    take_in_parcels()
                    keep_within()
            except Exception as error:  # the database may be away, or the disk full: it is tried again, not at once
                self._say(error)
                wait = _AFTER_TROUBLE_S
            finally:
                let_go()

    def _look_first(self, station: Station) -> None:
        """A run that is taken up again needs its card's new stay; without this it would find no card in any reader."""
        try:
            look(station)
        except Exception as error:  # a reader in trouble keeps nobody from working with the others
            self._say(error)

    def _be_the_only_one(self, station: Station) -> Hold:
        """A lock for the life of this process: two workers of one station would both believe the other dead."""
        hold = be_the_only_one(station)
        if hold is None:
            raise CommandError(f"Station '{station.name}' is running already.")
        return hold

    def _end_when_lost(self, station: Station, hold: Hold) -> None:
        """Without the lock this may be one of two: it ends at once, as if the power had gone, and is begun again."""
        while hold.lasts():
            time.sleep(_FEEL_S)
        print(f"station: '{station.name}' lost the ledger's database; it begins again", file=sys.stderr, flush=True)
        os._exit(1)

    def _say(self, error: Exception) -> None:
        print(f"station: {error!r}", file=sys.stderr, flush=True)


def _take_up_interrupted_work(queue: str) -> None:
    """Whatever an earlier worker of this station left half done begins again: tasks trust nothing unread.

    This process is the station's only one, so a job that is being done is being done by nobody.
    """
    stalled = async_to_sync(app.job_manager.get_stalled_jobs)
    for job in stalled(queue=queue, seconds_since_heartbeat=0):
        with contextlib.suppress(UniqueViolation):  # another job waits for the same run
            app.job_manager.retry_job_by_id(job.id or 0, retry_at=now())


def _stop(task: asyncio.Future[list[None]]) -> None:
    """Let a short task end; a long one is left where it is, exactly as if the power had gone, and taken up again."""
    task.cancel()
    last = threading.Timer(_GRACE, os._exit, [0])
    last.daemon = True
    last.start()


async def _work(queues: dict[str, int]) -> None:
    """queues: how many jobs of each queue run side by side"""
    connector = app.connector.get_worker_connector()  # type: ignore[attr-defined]  # Django's connector has it
    with app.replace_connector(connector) as working:
        async with working.open_async():
            workers = (
                working.run_worker_async(
                    queues=[queue],
                    concurrency=count,
                    install_signal_handlers=False,
                    shutdown_graceful_timeout=3,
                )
                for queue, count in queues.items()
            )
            task = asyncio.ensure_future(asyncio.gather(*workers))
            for number in (signal.SIGTERM, signal.SIGINT):
                asyncio.get_running_loop().add_signal_handler(number, _stop, task)
            with contextlib.suppress(asyncio.CancelledError):
                await task
