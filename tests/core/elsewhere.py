"""Lanes at the far end of a connection, but in this process: what passes between the two is the same.

So stores in memory, and faults that are planted in this process, do for it.
"""

import os
import threading
from contextlib import ExitStack
from multiprocessing.connection import Connection
from unittest.mock import patch

from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.transfer import starting
from ruggedraft.core.transfer.far_end import serve


class _Sent:
    """Pickled it is what it was: the far end is not elsewhere."""

    def __init__(self, connection: Connection, work) -> None:
        own = Connection(os.dup(connection.fileno()))
        self._thread = threading.Thread(target=self._run, args=(own, work), name="far end", daemon=True)
        self._thread.start()

    def _run(self, connection: Connection, work) -> None:
        with connection:
            serve(connection, work)

    def stop(self) -> str:
        return ""


def in_threads(connection: Connection, work, others) -> _Sent:
    return _Sent(connection, work)


class Elsewhere:
    """Put before a test case: its runs have their lanes elsewhere."""

    def setUp(self):
        with ExitStack() as patched:
            patched.enter_context(patch.object(starting, "in_processes", in_threads))
            patched.enter_context(patch.object(starting, "worth_processes", lambda listing: True))
            patched.enter_context(patch.object(MemoryStore, "moves", True))
            self.addCleanup(patched.pop_all().close)
        super().setUp()
