"""The ledger's clock. The demo tells a story that began days ago, so it may set it; nothing else does."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import datetime

from django.utils import timezone

_set_to: ContextVar[datetime | None] = ContextVar("ledger clock", default=None)


def now() -> datetime:
    """The present moment, aware, in UTC."""
    return _set_to.get() or timezone.now()


@contextmanager
def at(moment: datetime) -> Iterator[None]:
    token = _set_to.set(moment)
    try:
        yield
    finally:
        _set_to.reset(token)
