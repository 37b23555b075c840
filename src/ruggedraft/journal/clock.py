"""The ledger's clock: that of the machine its database is on, whatever a station's own says.

The demo tells a story that began days ago, so it may set it; nothing else does.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import datetime, timedelta

from django.db import connection
from django.utils import timezone

_set_to: ContextVar[datetime | None] = ContextVar("ledger clock", default=None)


def now() -> datetime:
    """The present moment, aware, in UTC."""
    return _set_to.get() or timezone.now() - _ahead


_WORTH_MINDING = timedelta(seconds=1)
_ahead = timedelta(0)


def follow_ledger() -> float:
    """From now on tell the ledger's time on this machine too. Returns the seconds that its clock is ahead of it."""
    global _ahead
    ahead = min((_look_at_both() for _ in range(3)), key=lambda look: look[0])[1]
    _ahead = ahead if abs(ahead) > _WORTH_MINDING else timedelta(0)
    return ahead.total_seconds()


def _look_at_both() -> tuple[timedelta, timedelta]:
    """How long the database took to answer, and how far this machine's clock is ahead of its."""
    before = timezone.now()
    with connection.cursor() as cursor:
        cursor.execute("SELECT clock_timestamp()")
        ledgers = cursor.fetchone()[0]
    after = timezone.now()
    return after - before, before + (after - before) / 2 - ledgers


@contextmanager
def at(moment: datetime) -> Iterator[None]:
    token = _set_to.set(moment)
    try:
        yield
    finally:
        _set_to.reset(token)
