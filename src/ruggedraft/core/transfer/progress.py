"""How far a run is, as numbers that threads add to and anybody may look at."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

READER = "the reader"
_TICK_S = 0.25


@dataclass
class StoreProgress:
    """Bytes of one store: there (written, or found there), and read back and agreeing. `trouble`: the first failure

    recalled: those of them that an earlier part of the run has proven
    """

    name: str
    written: int = 0
    verified: int = 0
    files_verified: int = 0
    recalled: int = 0
    trouble: str = ""


@dataclass
class Progress:
    """Bytes of a whole run. `total` is what there is to read; each store must verify as much.

    readings: how often the card is read. read_again: bytes of the second reading, where one was asked for
    recalled: those of `read` that an earlier part of the run read, and that were not read again
    waiting_s: seconds the reader waited for stores, by their names
    """

    total: int
    files_total: int
    read: int = 0
    readings: int = 1
    read_again: int = 0
    recalled: int = 0
    stores: list[StoreProgress] = field(default_factory=list)
    waiting_s: dict[str, float] = field(default_factory=dict)


@contextmanager
def ticking(on_progress: Callable[[Progress], None], progress: Progress) -> Iterator[None]:
    """Show the progress of a run a few times a second while inside, and once more at the end."""
    done = threading.Event()

    def tick() -> None:
        while not done.wait(_TICK_S):
            on_progress(progress)

    ticker = threading.Thread(target=tick, name="progress", daemon=True)
    ticker.start()
    try:
        yield
    finally:
        done.set()
        ticker.join()
        on_progress(progress)
