"""Which copies are due to be read again, and which of them first."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta


@dataclass(frozen=True)
class Recheckable:
    """A copy that could be read again now.

    key: its number. below: its roll has fewer copies than its rule asks for, and its card may be erased
    others: counting copies of its roll on other stores
    read_at: when the oldest reading of it began that is still believed; None where some of it was never read back
    fault_at: when a file was last found damaged on the device it is on; None if never
    """

    key: int
    below: bool
    others: int
    read_at: datetime | None
    fault_at: datetime | None = None

    @property
    def suspect(self) -> bool:
        """Something on its device was found damaged after it was last read."""
        return self.fault_at is not None and (self.read_at is None or self.read_at < self.fault_at)


def by_risk(copies: Iterable[Recheckable], now: datetime, every: timedelta) -> list[Recheckable]:
    """Those that are due, the one first that is to be feared for most.

    Due is what was not read for so long, and whatever lies on a device on which a file was found damaged since. Below
    the line goes first, then what has the fewest copies elsewhere, then what lies on such a device, then the oldest
    reading.
    """
    due = [one for one in copies if one.suspect or one.read_at is None or one.read_at <= now - every]
    return sorted(due, key=_risk)


def _risk(one: Recheckable) -> tuple[bool, int, bool, float, int]:
    read = one.read_at.timestamp() if one.read_at else float("-inf")
    return not one.below, one.others, not one.suspect, read, one.key
