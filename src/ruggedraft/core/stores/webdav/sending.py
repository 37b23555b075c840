"""Files on their way to a WebDAV server."""

import queue
import threading
from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from typing import Protocol

from ...errors import StoreError
from ..port import Data, PendingFile

_SMALL = 4 << 20
"""A file of fewer bytes is sent at once; a larger one goes as it comes."""
_WAITING = 4
"""Pieces of a large file that wait to be sent."""


class Server(Protocol):
    """Where they go. path: beneath the store"""

    def put(self, path: str, body: bytes | Iterable[bytes]) -> None:
        """Raises StoreError."""

    def delete(self, path: str) -> None:
        """Also what is not there. Raises StoreError."""


class Sending(PendingFile):
    """A file on its way. path: its name to be. at: where it is until then"""

    def __init__(self, server: Server, path: str, at: str) -> None:
        self.path, self.at, self._server = path, at, server
        self._buffer = bytearray()
        self._going: _Stream | None = None
        self._sent = self._over = False

    def write(self, data: Data) -> None:
        """Copies it. Raises StoreError, perhaps for what was sent before."""
        self._buffer += data
        while len(self._buffer) >= _SMALL:
            self._going = self._going or _Stream(self._put)
            self._going.give(bytes(self._buffer[:_SMALL]))
            del self._buffer[:_SMALL]

    def skip(self, count: int) -> None:
        """There are no holes: zeros are sent."""
        while count:
            piece = min(count, _SMALL)
            self.write(bytes(piece))
            count -= piece

    def end(self, modified_ns: int) -> None:
        """Waits until the server has taken it. Keeps no time."""
        if self._going:
            self._going.give(bytes(self._buffer))
            self._going.finish()
        else:
            self._put(bytes(self._buffer))
        self._buffer.clear()
        self._sent = True

    def is_named(self) -> None:
        """There is nothing left to be discarded."""
        self._over = True

    def _put(self, body: bytes | Iterable[bytes]) -> None:
        self._server.put(self.at, body)

    def discard(self) -> None:
        """Nothing bore its name yet."""
        if self._over:
            return
        self._over = True
        self._buffer.clear()
        if self._going:
            self._going.give_up()
        if self._sent or self._going:
            with suppress(StoreError):  # the run's folder goes at its end, or with the next run's
                self._server.delete(self.at)


class _Stream:
    """A body that is sent while it comes, by a thread of its own."""

    def __init__(self, send: Callable[[Iterable[bytes]], None]) -> None:
        self._pieces: queue.Queue[bytes | None] = queue.Queue(_WAITING)
        self._trouble: StoreError | None = None
        self._given_up = False
        self._thread = threading.Thread(target=self._run, args=(send,), daemon=True)
        self._thread.start()

    def _run(self, send: Callable[[Iterable[bytes]], None]) -> None:
        try:
            send(self._body())
        except StoreError as error:
            self._trouble = error

    def _body(self) -> Iterator[bytes]:
        while True:
            piece = self._pieces.get()
            if self._given_up:
                raise OSError("given up")  # the server must not take what came so far for the whole
            if piece is None:
                return
            if piece:
                yield piece

    def give(self, piece: bytes | None) -> None:
        """Waits while enough is under way. Raises StoreError once the sending has failed."""
        while True:
            if self._trouble:
                raise self._trouble
            if not self._thread.is_alive():
                raise StoreError("the server ended before all was sent")
            with suppress(queue.Full):
                self._pieces.put(piece, timeout=0.2)
                return

    def finish(self) -> None:
        """Waits for the server's answer. Raises StoreError."""
        self.give(None)
        self._thread.join()
        if self._trouble:
            raise self._trouble

    def give_up(self) -> None:
        """Never raises."""
        self._given_up = True
        with suppress(queue.Full):
            self._pieces.put_nowait(None)
        self._thread.join(5)
