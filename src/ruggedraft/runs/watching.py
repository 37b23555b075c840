"""Reports the progress of a run to the screens, and learns whether it is to stop."""

import contextlib
import threading

import psycopg

from ruggedraft.core.transfer import Pace, Progress
from ruggedraft.live.messages import Progress as Message
from ruggedraft.live.messages import StoreProgress
from ruggedraft.live.notify import connection_words, send

from .models import Run


class Watch:
    """Tells the screens how far a run is and learns from the ledger whether it is to stop. A context manager.

    The engine calls it from a thread of its own, so it brings its own connection.
    """

    def __init__(self, run: Run) -> None:
        self._run, self._production = run.pk, run.roll.production_id
        self._stop = threading.Event()
        self._held_back = False
        self._pace = Pace()
        if run.cancel_asked_at:  # while it waited
            self._stop.set()
        self._ledger = psycopg.connect(**connection_words())

    def __enter__(self) -> "Watch":
        return self

    def __exit__(self, *_: object) -> None:
        self._ledger.close()

    def tick(self, progress: Progress) -> None:
        """Call it a few times a second."""
        with contextlib.suppress(psycopg.Error):  # progress is for looking at; the run itself must not end with it
            self._tick(progress)

    def _tick(self, progress: Progress) -> None:
        asked = self._ledger.execute("SELECT cancel_asked_at, held_back FROM runs_run WHERE id = %s", [self._run])
        row = asked.fetchone()
        if row and any(row):
            self._held_back = not row[0]
            self._stop.set()
        send(_message(self._run, self._production, progress, self._pace), self._ledger)

    def cancelled(self) -> bool:
        """Somebody wants the run to stop, for good or for now."""
        return self._stop.is_set()

    def held_back(self) -> bool:
        """Somebody paused the run: it goes on another time, and nothing of it is noted now."""
        return self._held_back


def _message(run: int, production: int, progress: Progress, pace: Pace) -> Message:
    now = pace.look(progress)
    stores = [
        StoreProgress(
            name=store.name, written=store.written, verified=store.verified, trouble=store.trouble[:200],
            rate=round(rate),
        )
        for store, rate in zip(progress.stores, now.stores_bytes_per_s, strict=True)
    ]  # fmt: skip
    return Message(
        run=run, production=production, total=progress.total, read=progress.read, read_again=progress.read_again,
        stores=stores,
        rate=round(now.read_bytes_per_s), left_s=now.left_s, held_by=now.held_by,
    )  # fmt: skip
