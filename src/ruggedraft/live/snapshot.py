"""Answers that are true of one moment, though several queries make them and others write meanwhile."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import connection, transaction

_here = threading.local()


@contextmanager
def one_moment() -> Iterator[None]:
    """Everything that is read inside is as it was at one moment: no answer is half before a change and half after it.

    For reading only (PostgreSQL manual, 'Repeatable Read'). Inside a transaction nothing happens: whoever holds a lock
    reads what stands still. Usable as a decorator.
    """
    if connection.in_atomic_block:
        yield
        return
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
        _here.inside = True
        try:
            yield
        finally:
            _here.inside = False


def when_over(act: Callable[[], None]) -> None:
    """Do something that writes once the moment is over; at once where none is being held."""
    if getattr(_here, "inside", False):
        transaction.on_commit(act, robust=True)  # what was answered is true, whether or not this works
    else:
        act()
