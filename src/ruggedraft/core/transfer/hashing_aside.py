"""Hashing the pieces of large files beside the reading of the next one."""

import queue
import threading
from collections.abc import Sequence

from ..hashing import Hasher
from .buffers import Buffer


class HashingAside:
    """A thread of its own; one file after the other."""

    def __init__(self) -> None:
        self._work: queue.SimpleQueue[tuple[Buffer, int] | threading.Event | None] = queue.SimpleQueue()
        self._hashers: Sequence[Hasher] = ()
        self._error: Exception | None = None
        threading.Thread(target=self._run, name="hash", daemon=True).start()

    def begin(self, hashers: Sequence[Hasher]) -> None:
        """A new file, with a hasher for each checksum wanted."""
        self._hashers = hashers

    def update(self, buffer: Buffer, count: int) -> None:
        """The next piece of the file; releases the buffer when it has been hashed."""
        self._work.put((buffer, count))

    def wait(self) -> None:
        """Until everything handed over has been hashed. Raises what went wrong: then no checksum means anything."""
        done = threading.Event()
        self._work.put(done)
        done.wait()
        if self._error:
            raise self._error

    def end(self) -> None:
        """Nothing more comes; the thread ends."""
        self._work.put(None)

    def _run(self) -> None:
        while (work := self._work.get()) is not None:
            if isinstance(work, threading.Event):
                work.set()
                continue
            self._hash(*work)

    def _hash(self, buffer: Buffer, count: int) -> None:
        try:
            for hasher in self._hashers:
                hasher.update(buffer.view[:count])
        except Exception as error:
            self._error = error
        finally:
            buffer.release()
