"""How many days and rolls a store has room for, as a range.

What days come to is taken as independent draws of one kind, of which some were seen. So the sum of k more days lies
around k times the mean, with a variance of s² (k + k²/n) that holds both how days differ and how little n days say of
their mean (the prediction variance of a sum of new observations; textbooks on regression have it for k = 1).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

_Z = 1.2816
"""Of the normal distribution: 80 in 100 lie within so many standard deviations of the mean."""
_USUAL_SPREAD = 0.6
"""Standard deviation of a day over the mean, as one day's worth of knowledge, before days say it themselves. From
memory of shoots: a quiet day is a third of a busy one."""
_LATELY = 12
"""So many of the newest days count: a production's second unit begins, and its last week is not its first."""
_FARTHEST = 400.0
"""Days ahead; beyond that nothing is said."""


class PartOfDay(StrEnum):
    """About when on a day."""

    MORNING = "morning"
    AFTERNOON = "afternoon"
    EVENING = "evening"


@dataclass(frozen=True)
class Foreseen:
    """When a store will be full, if the production goes on as it did. In 8 of 10 cases between `earliest` and `latest`.

    expected, part: the day it is most likely, and about when. None: later than can be told
    days, rolls: of shooting, for which there is room; (fewest, most)
    """

    earliest: date
    expected: date | None
    latest: date | None
    part: PartOfDay
    days: tuple[float, float]
    rolls: tuple[int, int]


def foresee(free: int, by_day: Mapping[date, int], rolls: Sequence[int], today: date) -> Foreseen | None:
    """None where nothing was written yet, or there is room for longer than can be told.

    free: bytes. by_day: bytes of what was shot each day that are on the store. rolls: bytes of its rolls, newest first
    """
    days = {day: count for day, count in by_day.items() if count > 0 and day <= today}
    if not days:
        return None
    past = [days[day] for day in sorted(days) if day < today][-_LATELY:]
    room = _days_of_room(free, past or list(days.values()))
    worked, so_far = _share_of_days_worked(days, today), _share_of_today(days.get(today, 0), past)
    first, likely, last = (_ahead(count, so_far, worked) for count in room)
    if first >= _FARTHEST:
        return None
    earliest, fits = today + timedelta(days=int(first)), _rolls(free, rolls)
    return Foreseen(earliest, _day(today, likely), _day(today, last), _part(likely), (room[0], room[2]), fits)


def _share_of_today(written: int, past: Sequence[int]) -> float:
    """Of what a day comes to, what is written already; all of it where no other day tells what that is."""
    return min(written / _mean(past), 1.0) if past else 1.0


def _days_of_room(free: int, seen: Sequence[int]) -> tuple[float, float, float]:
    """Of shooting: the fewest, the most likely, the most. seen: what days came to, in bytes"""
    mean, n = _mean(seen), len(seen)
    wide = _spread(seen) * _student(n)
    return _days_until(free, mean, wide, n), _days_until(free, mean, 0.0, n), _days_until(free, mean, -wide, n)


def _mean(seen: Sequence[int]) -> float:
    return sum(seen) / len(seen)


def _spread(seen: Sequence[int]) -> float:
    """Standard deviation of a day, in bytes, with one day's worth of what is usual mixed in."""
    mean = _mean(seen)
    squares = sum((count - mean) ** 2 for count in seen)
    return math.sqrt((squares + (_USUAL_SPREAD * mean) ** 2) / len(seen))


def _student(n: int) -> float:
    """Student's t instead of the normal quantile, as the spread is estimated too (Abramowitz and Stegun, 'Handbook of
    Mathematical Functions', 26.7.5, its first term).
    """
    return _Z + (_Z**3 + _Z) / (4 * n)


def _days_until(free: int, mean: float, shift: float, n: int) -> float:
    """The first number of days k at which k·mean + shift·√(k + k²/n) reaches what is free."""
    if _written(_FARTHEST, mean, shift, n) < free:
        return _FARTHEST
    low, high = 0.0, _FARTHEST
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if _written(middle, mean, shift, n) < free else (low, middle)
    return high


def _written(k: float, mean: float, shift: float, n: int) -> float:
    """In k days, in bytes."""
    return k * mean + shift * math.sqrt(k + k * k / n)


def _share_of_days_worked(days: Mapping[date, int], today: date) -> float:
    first = min(days)
    span = (today - first).days + 1
    return len(days) / span if span > 1 else 1.0


def _ahead(count: float, so_far: float, worked: float) -> float:
    """Calendar days from this morning until so many days' worth is written. so_far: of today, what is written."""
    left_today = 1.0 - so_far
    if count <= left_today:
        return so_far + count
    return 1.0 + (count - left_today) / worked


def _day(today: date, ahead: float) -> date | None:
    return today + timedelta(days=int(ahead)) if ahead < _FARTHEST else None


def _part(ahead: float) -> PartOfDay:
    of_day = ahead % 1
    return list(PartOfDay)[int(of_day * 3)]


def _rolls(free: int, rolls: Sequence[int]) -> tuple[int, int]:
    """For how many more there is room: if they were like the largest fifth of late, and like the smallest."""
    lately = sorted(size for size in rolls[:50] if size > 0)
    if not lately:
        return 0, 0
    large, small = lately[math.ceil(0.8 * len(lately)) - 1], lately[math.ceil(0.2 * len(lately)) - 1]
    return free // large, free // small
