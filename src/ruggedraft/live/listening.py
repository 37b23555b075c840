"""Hearing what the ledger says, without asking ten times a second whether it said anything.

psycopg looks up from waiting every tenth of a second, so that Ctrl-C is heard; in a process that waits all day on
several connections that is most of what it does.
"""

import asyncio
import select
from collections.abc import AsyncGenerator, Iterator

import psycopg
from psycopg import Notify


def notices(ledger: psycopg.Connection, seconds: float) -> Iterator[Notify]:
    """What a connection that listens is told, at once where anything is; nothing after so many seconds.

    Raises psycopg.Error when the connection is gone.
    """
    waiting = list(ledger.notifies(timeout=0))
    if not waiting:
        poll = select.poll()
        poll.register(ledger.fileno(), select.POLLIN)
        poll.poll(seconds * 1000)
        waiting = list(ledger.notifies(timeout=0))
    yield from waiting


class PatientConnection(psycopg.AsyncConnection):
    """For listening: nothing else is to be done with it meanwhile."""

    async def notifies(
        self, *, timeout: float | None = None, stop_after: int | None = None
    ) -> AsyncGenerator[Notify, None]:
        """As in psycopg. timeout: seconds"""
        loop, told = asyncio.get_running_loop(), 0
        deadline = None if timeout is None else loop.time() + timeout
        while True:
            async for one in super().notifies(timeout=0):
                yield one
                told += 1
            if stop_after is not None and told >= stop_after:
                return
            left = None if deadline is None else deadline - loop.time()
            if left is not None and left <= 0:
                return
            await self._something_to_read(left)

    async def _something_to_read(self, seconds: float | None) -> None:
        readable, loop = asyncio.Event(), asyncio.get_running_loop()
        loop.add_reader(self.fileno(), readable.set)
        try:
            await asyncio.wait_for(readable.wait(), seconds)
        except TimeoutError:
            pass
        finally:
            loop.remove_reader(self.fileno())
