"""Threads take turns at work that consists of thousands of short system calls, because that is faster.

Python runs one thread at a time and lets another go on at every system call. Threads that do nothing but short calls
then spend more time on handing over than on their work (docs/engine.md has the measurement). So those that are about
to handle many small files take turns; whoever has to wait for a device steps aside meanwhile.

This is for speed alone: nothing relies on a turn, and nobody waits long for one, as a store may hang in the middle of
its own.
"""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

_PATIENCE_S = 0.5


class Turns:
    """One for all threads of a run."""

    def __init__(self, patience_s: float = _PATIENCE_S) -> None:
        self._patience_s = patience_s
        self._lock = threading.Lock()

    @contextmanager
    def mine(self) -> Iterator["Turn"]:
        """A turn for the calling thread, taken now and given back at the end."""
        turn = Turn(self)
        turn.take()
        try:
            yield turn
        finally:
            turn.give()

    def acquire(self) -> threading.Lock:
        """The lock, taken. Whoever has had it for too long is not waited for: from now on another lock counts."""
        lock = self._lock
        if not lock.acquire(timeout=self._patience_s):
            lock = threading.Lock()
            lock.acquire()
            self._lock = lock
        return lock


class Turn:
    """One thread's."""

    def __init__(self, turns: Turns) -> None:
        self._turns = turns
        self._held: threading.Lock | None = None

    def take(self) -> None:
        """Wait for the turn, a while at most."""
        if self._held is None:
            self._held = self._turns.acquire()

    def give(self) -> None:
        """Let the next one go on."""
        if self._held is not None:
            held, self._held = self._held, None
            held.release()

    @contextmanager
    def aside(self) -> Iterator[None]:
        """Let others go on while this thread waits for something."""
        self.give()
        try:
            yield
        finally:
            self.take()
