"""When something that was done, and still seems to be due, is done again by itself."""

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

    It waits a quarter of an hour, and after trouble twice as long after each further one, up to half a day: whatever
    is due for a reason that doing it does not mend must not be done without a pause. What a person cancelled is left
    alone for a day.
    """
    if not tries:
        return None
    last = tries[0]
    if last.end is RunEnd.WELL:
        return last.ended_at + _FIRST
    if last.end is RunEnd.CANCELLED:
        return last.ended_at + _AFTER_A_PERSON
    in_a_row = next((n for n, one in enumerate(tries) if one.end is RunEnd.WELL), len(tries))
    wait = _FIRST * (1 << min(in_a_row - 1, 10))
    return last.ended_at + min(wait, _LONGEST)
