"""How long a card stays in its reader for the sake of a slow store."""

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Protocol

_SLOW_S = 10.0
_STALLED_S = 20.0
SILENT_S = 240.0
"""How long a store may do nothing at all before nothing more is expected of it."""


class Lags(Protocol):
    """What patience looks at: a store's lane. backlog: buffers it holds; usable: it still takes bytes."""

    @property
    def name(self) -> str:
        """The store's."""

    @property
    def backlog(self) -> int:
        """How many buffers wait for it."""

    @property
    def usable(self) -> bool:
        """Whether it still takes bytes: neither stopped by trouble nor left behind."""

    def leave_behind(self) -> None:
        """Take no more bytes, also none of those that wait; the reader goes on without this store."""


@dataclass
class _Held:
    in_all: float = 0.0
    at_once: float = 0.0


@dataclass
class Patience:
    """Keeps account of who holds the reader up, and says who is to be left behind.

    A store is left behind when it has held the reader for `slow_s` seconds in all, and for half of the run or more;
    or for `stalled_s` at once. At least one store is always waited for, as the others are fed from its copy: but that
    one too no longer than `silent_s` at once.
    """

    lanes: Sequence[Lags]
    slow_s: float = _SLOW_S
    stalled_s: float = _STALLED_S
    silent_s: float = SILENT_S
    clock: Callable[[], float] = time.monotonic
    _held: dict[int, _Held] = field(default_factory=dict)
    _started: float = 0.0

    def __post_init__(self) -> None:
        self._started = self.clock()

    def holding(self) -> list[Lags]:
        """Who holds the buffers that the reader waits for: all that have at least half as many as the worst."""
        going = [lane for lane in self.lanes if lane.usable]
        worst = max((lane.backlog for lane in going), default=0)
        return [lane for lane in going if lane.backlog * 2 >= worst] if worst else []

    def waited(self, seconds: float) -> list[Lags]:
        """Note that the reader waited; returns who has held it for too long."""
        holding = self.holding()
        for index, lane in enumerate(self.lanes):
            held = self._held.setdefault(index, _Held())
            held.at_once = held.at_once + seconds if lane in holding else 0.0
            held.in_all += seconds if lane in holding else 0.0
        others = [lane for lane in self.lanes if lane.usable and lane not in holding]
        return [lane for lane in holding if self._too_long(self._held[self._index(lane)], alone=not others)]

    def went_on(self) -> None:
        """The reader got what it waited for."""
        for held in self._held.values():
            held.at_once = 0.0

    def _index(self, lane: Lags) -> int:
        return next(index for index, one in enumerate(self.lanes) if one is lane)

    def _too_long(self, held: _Held, *, alone: bool) -> bool:
        if alone:
            return held.at_once >= self.silent_s
        if held.at_once >= self.stalled_s:
            return True
        return held.in_all >= max(self.slow_s, (self.clock() - self._started) / 2)
