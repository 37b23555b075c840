"""When something that did not go well is tried again by itself."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..runs import RunEnd

_FIRST = timedelta(minutes=15)
_LONGEST = timedelta(hours=12)
_AFTER_A_PERSON = timedelta(hours=24)


@dataclass(frozen=True)
class LastTry:
    """A run of the same thing that has ended."""

    ended_at: datetime
    end: RunEnd


def again_at(tries: Sequence[LastTry]) -> datetime | None:
    """From when on it may be tried again; None for at once. tries: newest first

    After trouble it waits a quarter of an hour, and twice as long after each further one, up to half a day. What a
    person cancelled is left alone for a day.
    """
    if not tries or tries[0].end is RunEnd.WELL:
        return None
    last = tries[0]
    if last.end is RunEnd.CANCELLED:
        return last.ended_at + _AFTER_A_PERSON
    in_a_row = next((n for n, one in enumerate(tries) if one.end is RunEnd.WELL), len(tries))
    wait = _FIRST * (1 << min(in_a_row - 1, 10))
    return last.ended_at + min(wait, _LONGEST)
