"""How fast a run goes, what holds it back, and how long it will take from here."""

import time
from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from .progress import READER, Progress

_WINDOW_S = 20.0
"""Seconds that a rate is taken over: long enough for caches to fill and empty, short enough to follow."""
_LEAST_S = 2.0
_SLOWEST_SHARE = 0.2
"""A store is what holds the reader back if the reader waited for it for more than this share of the time."""


@dataclass(frozen=True)
class Now:
    """Rates in bytes a second over the last while; left_s: seconds to the end, None before that can be told.

    held_by: what sets the pace: "the reader" or a store's name; empty before that can be told
    """

    read_bytes_per_s: float
    stores_bytes_per_s: tuple[float, ...]
    left_s: float | None
    held_by: str


@dataclass(frozen=True)
class _Look:
    at: float
    read: int
    stores: tuple[tuple[int, int], ...]
    waited: dict[str, float]


@dataclass
class Pace:
    """Looks at a run's progress a few times a second and remembers the last while. clock: seconds, any origin."""

    clock: Callable[[], float] = time.monotonic
    _looks: deque[_Look] = field(default_factory=deque)
    _first: _Look | None = None

    def look(self, progress: Progress) -> Now:
        """Note how far the run is now, and work out its pace."""
        here = _Look(
            self.clock(), progress.read + progress.read_again - progress.recalled,
            tuple((store.written - store.recalled, store.verified - store.recalled) for store in progress.stores),
            dict(progress.waiting_s),
        )  # fmt: skip
        self._first = self._first or here
        self._looks.append(here)
        while len(self._looks) > 2 and here.at - self._looks[1].at >= _WINDOW_S:
            self._looks.popleft()
        before = self._looks[0]
        seconds = here.at - before.at
        if seconds <= 0:
            return Now(0.0, tuple(0.0 for _ in here.stores), None, "")
        read = max(0, here.read - before.read) / seconds
        stores = tuple(
            max(0, sum(now) - sum(then)) / 2 / seconds for now, then in zip(here.stores, before.stores, strict=True)
        )
        if here.at - self._first.at < _LEAST_S:
            return Now(read, stores, None, "")
        return Now(read, stores, self._left(progress, here), _held_by(progress, here, before, seconds))

    def _left(self, progress: Progress, here: _Look) -> float | None:
        """Every byte is read once, and on each store written and read back: the run ends with the slowest of them.

        By the whole run so far and not by the last while, which reading back in fits and starts would make jump.
        """
        first = self._first
        if first is None or here.at <= first.at:
            return None
        lefts = [_left(_to_read(progress), here.read, first.read, here.at - first.at)]
        for store, then, so_far in zip(progress.stores, first.stores, here.stores, strict=True):
            if not store.trouble:
                lefts.append(_left(2 * (progress.total - store.recalled), sum(so_far), sum(then), here.at - first.at))
        known = [left for left in lefts if left is not None]
        return max(known) if len(known) == len(lefts) else None


def _to_read(progress: Progress) -> int:
    """Bytes that this run has to read off the card."""
    return progress.total * progress.readings - progress.recalled


def _left(whole: int, so_far: int, then: int, seconds: float) -> float | None:
    if so_far >= whole:
        return 0.0
    done = so_far - then
    return (whole - so_far) * seconds / done if done > 0 else None


def _held_by(progress: Progress, here: _Look, before: _Look, seconds: float) -> str:
    waited = {name: here.waited[name] - before.waited.get(name, 0.0) for name in here.waited}
    worst = max(waited, key=lambda name: waited[name], default="")
    if worst and waited[worst] > _SLOWEST_SHARE * seconds:
        return worst
    if here.read < _to_read(progress):
        return READER
    return _furthest_behind([(store.name, store.verified) for store in progress.stores if not store.trouble])


def _furthest_behind(stores: Sequence[tuple[str, int]]) -> str:
    return min(stores, key=lambda store: store[1])[0] if stores else ""
