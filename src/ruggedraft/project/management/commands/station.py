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
from procrastinate import PsycopgConnector
from procrastinate.contrib.django import app
from procrastinate.contrib.django.utils import connector_params
from procrastinate.exceptions import UniqueViolation

from ruggedraft.clearing.releasing import let_cards_go
from ruggedraft.clearing.unattended import take_up_unattended
from ruggedraft.intake.acts.note_readers import forget_stays
from ruggedraft.intake.thinning import thin_listings
from ruggedraft.intake.watching import look, watch_readers
from ruggedraft.journal.clock import follow_ledger, now
from ruggedraft.keywords.writing import write_due
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import Hold, be_the_only_one, looks_queue, readings_queue
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.listening import PatientConnection
from ruggedraft.live.waking import Bell, Waking
from ruggedraft.offloads.after import go_after
from ruggedraft.pictures.caring import keep_within, take_in_parcels
from ruggedraft.pictures.making import decode_due, lighten_next, make_due
from ruggedraft.project.staying import settle_in
from ruggedraft.rolls.acts.look_at_copy import look_at_the_oldest
from ruggedraft.rolls.names import keep_names
from ruggedraft.runs.models import RunQueue
from ruggedraft.runs.queue import queue_name, take_up_open_runs
from ruggedraft.runs.sharing import MOST_AT_ONCE
from ruggedraft.upkeep.keeping_up import keep_up

_GRACE = 4.0  # seconds
_AFTER_S, _LOOK_AFTER_S, _PICTURES_S = 3.0, 10.0, 5.0
"""Seconds that threads let pass at least between two times that they do what is due."""
_WITHOUT_NEWS_S = 120.0
"""And at most, where nothing has changed in the ledger that could have made something due."""
_BEHIND_S = 2.0
"""So long they leave to what the same news is about: a card that was just put in is listed first."""
_AFTER_TROUBLE_S = 60.0
_ASK_FOR_JOBS_S = 30.0
"""Workers are told of each new job; they ask all the same."""
_BEAT_S = 30.0
"""So often workers say that they are there. Whether one works on a run is told by its lock, and not by this."""
_FEEL_S = 3.0
_SIDE_BY_SIDE = {RunQueue.CARDS: MOST_AT_ONCE, RunQueue.FEEDS: 1, RunQueue.MAKING: 1}
"""So many runs of each queue at a time, at most."""


def _look_after_cards(station: Station) -> None:
    take_up_unattended(station)
    let_cards_go(station)


class Command(BaseCommand):
    help = "Run a station: watch its readers and stores, and do the work on its queue, until it is told to stop."
    requires_system_checks = ()  # `prepare` has made them; they read the whole web server

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="the station's name, which is also its queue's")

    def handle(self, *args: Any, name: str, **options: Any) -> None:
        settle_in()
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
        waking = Waking()
        for work in (self._look_after_runs, self._make_pictures, self._go_after):
            threading.Thread(target=work, args=(station, waking.bell(), waking.stop), daemon=True).start()
        watcher = threading.Thread(
            target=watch_readers, args=(station, waking, self._say, _look_after_cards), daemon=True
        )
        watcher.start()
        waking.start()
        try:
            asyncio.run(_work(queues))
        finally:
            waking.end()
            watcher.join(5)

    def _look_after_runs(self, station: Station, bell: Bell, stop: threading.Event) -> None:
        """A run whose job failed without ending it, say while the database was away, is taken up again.

        And one copy at a time is looked at, so that what somebody deletes by mistake is noticed the same hour; and what
        is to be done by itself is begun. The server's own station also keeps names of files, so that they are found,
        and lets old listings go.
        """
        going_on, last = True, 0.0
        while bell.wait(_LOOK_AFTER_S, _LOOK_AFTER_S if going_on else _WITHOUT_NEWS_S, _BEHIND_S):
            going_on = True
            try:
                going_on = take_up_open_runs(station) > 0
                going_on = look_at_the_oldest(station) or going_on
                if bell.has_rung or time.monotonic() - last >= _WITHOUT_NEWS_S:
                    last = time.monotonic()
                    keep_up(station)
                    write_due(station)
                    if not station.role:
                        keep_names()
                        thin_listings(now())
            except Exception as error:  # the database may still be away
                self._say(error)
            finally:
                let_go()

    def _go_after(self, station: Station, bell: Bell, stop: threading.Event) -> None:
        """Apart from all else: a program of somebody's may take as long as it is let."""
        while bell.wait(_AFTER_S, _WITHOUT_NEWS_S, _BEHIND_S):
            try:
                go_after(station)
            except Exception as error:  # the database may be away
                self._say(error)
            finally:
                let_go()

    def _make_pictures(self, station: Station, bell: Bell, stop: threading.Event) -> None:
        """Behind everything else; the server's own station also sees to where they are kept."""
        wait = _PICTURES_S, _WITHOUT_NEWS_S
        while bell.wait(*wait, _BEHIND_S):
            wait = _PICTURES_S, _WITHOUT_NEWS_S
            try:
                make_due(station, stop)
                decode_due(station, stop)
                if lighten_next(station, stop):
                    wait = 0.0, 0.0
                if not station.role:
                    take_in_parcels()
                    keep_within()
            except Exception as error:  # the database may be away, or the disk full: it is tried again, not at once
                self._say(error)
                wait = _AFTER_TROUBLE_S, _AFTER_TROUBLE_S
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
    connector = PsycopgConnector(kwargs=connector_params(), connection_class=PatientConnection)
    with app.replace_connector(connector) as working:
        async with working.open_async():
            workers = (
                working.run_worker_async(
                    queues=[queue],
                    concurrency=count,
                    fetch_job_polling_interval=_ASK_FOR_JOBS_S,
                    update_heartbeat_interval=_BEAT_S,
                    stalled_worker_timeout=4 * _BEAT_S,
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
