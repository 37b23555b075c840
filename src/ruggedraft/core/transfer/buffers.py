"""The memory that a run's bytes pass through: a fixed number of buffers, used again and again."""

import mmap
import threading

SIZE = 4 << 20  # bytes of a buffer; a multiple of every block size in use
COUNT = 16
"""How many buffers a run has: what bounds its memory, and how far any store may lag behind the reader."""


class Buffer:
    """Page-aligned memory, as direct I/O asks. Goes back to its pool when its last holder lets go."""

    def __init__(self, pool: "Pool", size: int) -> None:
        self.view = memoryview(mmap.mmap(-1, size))
        self._pool, self._holders = pool, 0

    def hold(self, holders: int) -> None:
        """Say how many are going to `release` it; with none it is free at once."""
        self._holders = holders
        if not holders:
            self._pool.put_back(self)

    def release(self) -> None:
        """One of its holders is done with it; after the last it is free."""
        with self._pool.lock:
            self._holders -= 1
            if self._holders:
                return
        self._pool.put_back(self)


class Pool:
    """Makes buffers when they are first needed. One thread takes, any thread gives back."""

    def __init__(self, size: int | None = None, count: int | None = None) -> None:
        self.size = size or SIZE
        self.lock = threading.Lock()
        self._there = threading.Condition()
        self._free: list[Buffer] = []
        self._to_make = count or COUNT

    def take(self, patience_s: float) -> Buffer | None:
        """A buffer, or None if none came free in that time."""
        with self._there:
            if not self._free and self._to_make:
                self._to_make -= 1
                return Buffer(self, self.size)
            if not self._free and not self._there.wait_for(lambda: self._free, patience_s):
                return None
            return self._free.pop()

    def put_back(self, buffer: Buffer) -> None:
        """Make a buffer free for the next who takes one."""
        with self._there:
            self._free.append(buffer)
            self._there.notify()
