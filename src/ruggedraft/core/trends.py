"""How it goes, as figures that pictures are drawn from."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from statistics import median

_LATELY, _LEAST_EARLIER = 3, 3
_SLOW = 0.5
"""Of what it was: a part that came to less of late stands out. Our own choice; no source."""


@dataclass(frozen=True)
class RoomOn:
    """What was free when a shoot day was over, in bytes."""

    day: date
    free: int


@dataclass(frozen=True)
class StoreTrend:
    """days: what was free after each shoot day, if nothing but these copies was written; the last one is now

    earliest, expected, latest: when it will be full, if it goes on so; None: later than can be told, or unknown
    """

    store: str
    total: int
    days: tuple[RoomOn, ...]
    earliest: date | None = None
    expected: date | None = None
    latest: date | None = None


@dataclass(frozen=True)
class RunRate:
    """rate: bytes a second of a whole run, which goes as fast as its slowest part."""

    at: datetime
    rate: float


@dataclass(frozen=True)
class PartRates:
    """A reader's or a store's newest runs, oldest first. slow: of late they came to much less than before."""

    name: str
    reader: bool
    runs: tuple[RunRate, ...]
    slow: bool


@dataclass(frozen=True)
class CardTime:
    """How long a card was away from its camera: came_at: into a reader; cleared_at: it was said to be free."""

    card: str
    camera: str
    came_at: datetime
    cleared_at: datetime


@dataclass(frozen=True)
class ForetoldRun:
    """How long a run was expected to take when it was asked for, and how long it took, in seconds."""

    roll: str
    at: datetime
    foretold_s: float
    took_s: float


@dataclass(frozen=True)
class Foretold:
    """runs: oldest first. median_s, most_s: seconds by which half of them, and nine in ten, were off at most"""

    runs: tuple[ForetoldRun, ...]
    median_s: float
    most_s: float


@dataclass(frozen=True)
class CopiesOfAge:
    """days: everything of these copies was read back within so many days; None: longer ago, or (never) not at all."""

    days: int | None
    never: bool
    copies: int


@dataclass(frozen=True)
class CardsAt:
    """Since a moment so many."""

    at: datetime
    cards: int


@dataclass(frozen=True)
class CardsWaiting:
    """How many cards held something that was offloaded and were not cleared, over a shoot day. cards: there are in all

    steps: since each moment so many, until the next
    """

    day: date
    cards: int
    steps: tuple[CardsAt, ...]


@dataclass(frozen=True)
class Trends:
    """times: oldest clearance first. foretold, waiting: None before anything was offloaded"""

    room: tuple[StoreTrend, ...]
    rates: tuple[PartRates, ...]
    times: tuple[CardTime, ...]
    foretold: Foretold | None
    ages: tuple[CopiesOfAge, ...]
    waiting: CardsWaiting | None


def free_over_days(free: int, by_day: Mapping[date, int], today: date) -> tuple[RoomOn, ...]:
    """free: bytes, now. by_day: bytes that what was shot on each day takes

    >>> [one.free for one in free_over_days(10, {date(2026, 5, 14): 5, date(2026, 5, 15): 2}, date(2026, 5, 16))]
    [12, 10, 10]
    """
    days = sorted(day for day in by_day if day < today)
    after = (RoomOn(day, free + sum(count for later, count in by_day.items() if later > day)) for day in days)
    return (*after, RoomOn(today, free))


def is_slow(rates: Sequence[float]) -> bool:
    """rates: of a part's runs, oldest first. One may be slow for another part's sake: of the last ones the best counts.

    >>> is_slow([100, 90, 110, 30, 40, 20]), is_slow([100, 90, 110, 30, 95, 20]), is_slow([100, 20])
    (True, False, False)
    """
    earlier, lately = rates[:-_LATELY], rates[-_LATELY:]
    return len(earlier) >= _LEAST_EARLIER and max(lately) < _SLOW * median(earlier)


def how_far_off(runs: Sequence[ForetoldRun]) -> Foretold | None:
    """Of no runs nothing is said. The nearest rank: of ten runs the ninth, and never less than the largest of fewer.

    >>> runs = [ForetoldRun("A", datetime(2026, 5, 14), 100, 100 + off) for off in (1, -2, 3, -40)]
    >>> found = how_far_off(runs)
    >>> found.median_s, found.most_s
    (2.5, 40)
    """
    off = sorted(abs(run.took_s - run.foretold_s) for run in runs)
    return Foretold(tuple(runs), median(off), off[-(-len(off) * 9 // 10) - 1]) if off else None


AGES = (1, 3, 7, 14, 30)
"""Days."""


def by_age(read_back: Iterable[datetime | None], moment: datetime) -> tuple[CopiesOfAge, ...]:
    """read_back: since when all of a copy was read back; None: some of it never was"""
    counts: dict[tuple[int | None, bool], int] = {
        **{(days, False): 0 for days in AGES}, (None, False): 0, (None, True): 0,
    }  # fmt: skip
    for at in read_back:
        counts[_age_of(at, moment), at is None] += 1
    return tuple(CopiesOfAge(days, never, copies) for (days, never), copies in counts.items())


def _age_of(at: datetime | None, moment: datetime) -> int | None:
    if at is None:
        return None
    return next((days for days in AGES if moment - at <= timedelta(days=days)), None)


Span = tuple[datetime, datetime | None]
"""From a moment to another; None: it lasts."""


def waiting_over(spans: Mapping[str, Sequence[Span]], begin: datetime, end: datetime) -> tuple[CardsAt, ...]:
    """How many cards wait, from `begin` to `end`. spans: by card, when something on it waited; they may overlap"""
    edges: dict[datetime, int] = {begin: 0}
    for mine in spans.values():
        for since, until in _joined(mine):
            if since < end and (until is None or until > begin):
                edges[max(since, begin)] = edges.get(max(since, begin), 0) + 1
                if until is not None and until < end:
                    edges[until] = edges.get(until, 0) - 1
    steps, count = list[CardsAt](), 0
    for at in sorted(edges):
        count += edges[at]
        steps.append(CardsAt(at, count))
    return (*steps, CardsAt(end, count))


def _joined(spans: Sequence[Span]) -> list[Span]:
    """Without overlaps, so that a card with two rolls is one card."""
    found = list[Span]()
    for since, until in sorted(spans, key=lambda one: one[0]):
        last = found[-1] if found else None
        if last and (last[1] is None or since <= last[1]):
            ends = None if last[1] is None or until is None else max(last[1], until)
            found[-1] = (last[0], ends)
        else:
            found.append((since, until))
    return found
