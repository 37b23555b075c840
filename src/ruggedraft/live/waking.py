"""Waking what waits in a process as soon as something in the ledger has changed: an idle process asks for nothing."""

import json
import sys
import threading

import psycopg

from .listening import notices
from .messages import Topic
from .notify import CHANNEL, connection_words

_TRY_AGAIN_S = 1.0
_LISTEN_S = 60.0
_NO_NEWS = frozenset((Topic.PRESENCE, Topic.SESSION, Topic.LOOKS))
"""What nothing is to be done about."""


class Bell:
    """Rings for one thread. has_rung: whether it rang before the last `wait` was over"""

    def __init__(self, stop: threading.Event) -> None:
        self._rung, self._stop = threading.Event(), stop
        self.has_rung = False

    def ring(self) -> None:
        """It stays rung until somebody has waited for it."""
        self._rung.set()

    @property
    def is_rung(self) -> bool:
        """Whether there is something that nobody waited for yet."""
        return self._rung.is_set()

    def answer(self) -> bool:
        """Whether it had rung; what comes from now on is news. One that rings just now is not taken back."""
        rung = self._rung.is_set()
        if rung:
            self._rung.clear()
        return rung

    def wait(self, at_least: float, at_most: float, pause: float = 0.0) -> bool:
        """Until it rings, but between so many seconds. False once all is to stop.

        pause: seconds more once it has rung, in which the process does what somebody is waiting for
        """
        if not self._stop.wait(at_least):
            if self._rung.wait(max(0.0, at_most - at_least)):
                self._stop.wait(pause)
            self.has_rung = self.answer()
        return not self._stop.is_set()


class Waking:
    """Follows what every screen is told of, over a connection of its own, and rings its bells."""

    def __init__(self) -> None:
        self.stop = threading.Event()
        self._bells: list[Bell] = []

    def bell(self) -> Bell:
        """One for each thread that waits."""
        self._bells.append(Bell(self.stop))
        return self._bells[-1]

    def end(self) -> None:
        """Everything that waits is to stop."""
        self.stop.set()
        self._ring()

    def start(self) -> None:
        """Follow, in a thread of its own, until the end."""
        threading.Thread(target=self._follow, name="waking", daemon=True).start()

    def _follow(self) -> None:
        """What was said while nobody listened is not known: everything is rung for then."""
        while not self.stop.is_set():
            try:
                self._listen()
            except (psycopg.Error, OSError) as error:
                print(f"waking: {error!r}", file=sys.stderr, flush=True)
                self.stop.wait(_TRY_AGAIN_S)

    def _listen(self) -> None:
        with psycopg.connect(**connection_words()) as ledger:
            ledger.execute(f"LISTEN {CHANNEL}")
            self._ring()
            while not self.stop.is_set():
                if any(_is_news(one.payload) for one in notices(ledger, _LISTEN_S)):
                    self._ring()
                ledger.execute("SELECT 1")  # a connection may be gone without a word

    def _ring(self) -> None:
        for bell in self._bells:
            bell.ring()


def _is_news(payload: str) -> bool:
    """Whether facts have changed. How far a run is, is none: that is said four times a second.

    >>> _is_news('{"kind": "changed", "topic": "rolls"}'), _is_news('{"kind": "progress", "run": 1}')
    (True, False)
    """
    said = json.loads(payload)
    return said.get("kind") == "changed" and said.get("topic") not in _NO_NEWS
