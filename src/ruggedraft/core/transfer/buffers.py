"""The memory that a run's bytes pass through: a fixed number of buffers, used again and again."""

import mmap
import os
import threading

SIZE = 4 << 20  # bytes of a buffer; a multiple of every block size in use
COUNT = 16
"""How many buffers a run has: what bounds its memory, and how far any store may lag behind the reader."""


class Buffer:
    """Page-aligned memory, as direct I/O asks. Goes back to its pool when its last holder lets go.

    number: which of its pool's it is, from 0
    """

    def __init__(self, pool: "Pool", number: int, view: memoryview) -> None:
        self.number, self.view = number, view
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
    """Hands out a buffer when one is first needed. One thread takes, any thread gives back."""

    def __init__(self, size: int | None = None, count: int | None = None, *, shared: bool = False) -> None:
        """shared: other processes are to see the buffers too. Raises OSError where such memory cannot be had."""
        self.size, self.count = size or SIZE, count or COUNT
        self.lock = threading.Lock()
        self.memory = os.memfd_create("buffers of a run") if shared else -1
        if shared:
            os.ftruncate(self.memory, self.size * self.count)
        self._all = memoryview(mmap.mmap(self.memory, self.size * self.count))  # takes room where it is written to
        self._there = threading.Condition()
        self._free: list[Buffer] = []
        self._given, self._over = 0, False

    def take(self, patience_s: float) -> Buffer | None:
        """A buffer, or None if none came free in that time."""
        with self._there:
            if not self._free and self._given < self.count:
                start = self._given * self.size
                self._given += 1
                return Buffer(self, self._given - 1, self._all[start : start + self.size])
            if not self._free and not self._there.wait_for(lambda: self._free, patience_s):
                return None
            return self._free.pop()

    def put_back(self, buffer: Buffer) -> None:
        """Make a buffer free for the next who takes one."""
        with self._there:
            if not self._over:
                self._free.append(buffer)
            self._there.notify()

    def end(self) -> None:
        """Nobody takes one any more: what is free goes at once, and each that is held when it comes back."""
        with self._there:
            self._over = True
            self._free.clear()

    def close(self) -> None:
        """No other process gets to see the memory from now on. It goes with the last of its buffers."""
        if self.memory >= 0:
            os.close(self.memory)
            self.memory = -1
