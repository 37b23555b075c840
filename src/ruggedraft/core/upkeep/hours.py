"""The hours of a day at which something may begin by itself."""

from dataclasses import dataclass
from datetime import time

_DAY = 24 * 60


@dataclass(frozen=True)
class Hours:
    """begin, end: minutes after midnight by the place's own clock, the second one not included. Alike: all day.

    >>> night = Hours(22 * 60, 6 * 60)
    >>> night.is_open(time(23, 30)), night.is_open(time(5, 59)), night.is_open(time(6, 0)), night.words
    (True, True, False, '22:00 to 06:00')
    """

    begin: int
    end: int

    def __post_init__(self) -> None:
        if not (0 <= self.begin < _DAY and 0 <= self.end < _DAY):
            raise ValueError("an hour of a day lies between 00:00 and 23:59")

    @property
    def all_day(self) -> bool:
        """Whether there is no hour at which it may not."""
        return self.begin == self.end

    def is_open(self, at: time) -> bool:
        """Whether something may begin at this time of day."""
        minute = at.hour * 60 + at.minute
        if self.begin < self.end:
            return self.begin <= minute < self.end
        return self.all_day or minute >= self.begin or minute < self.end

    @property
    def words(self) -> str:
        """As people write it; empty for all day."""
        return "" if self.all_day else f"{_clock(self.begin)} to {_clock(self.end)}"

    @property
    def opens(self) -> str:
        """When it begins, as people write it."""
        return _clock(self.begin)


def _clock(minute: int) -> str:
    return f"{minute // 60:02}:{minute % 60:02}"


ALL_DAY = Hours(0, 0)
