"""Reading no faster than asked for, so that work of the night leaves a line or a disk to others."""

import time
from collections.abc import Callable, Iterator, Sequence

from ..errors import SourceError
from ..sources.listing import Entry
from ..sources.port import CardSource, OpenFile

LEAST_BYTES_PER_S = 1_000_000
"""A slower cap would make stores look dead: a large piece of a file would take minutes."""


class RateCap:
    """Holds a reader back to a rate. clock: seconds, any origin. sleep: seconds

    One that was idle may not catch up on what it missed.
    """

    def __init__(
        self,
        bytes_per_s: int | None,
        clock: Callable[[], float] = time.monotonic,
        sleep: Callable[[float], None] = time.sleep,
    ) -> None:
        self._rate = max(bytes_per_s, LEAST_BYTES_PER_S) if bytes_per_s else None
        self._clock, self._sleep = clock, sleep
        self._free_at = clock()

    def spend(self, count: int) -> None:
        """Say that so many bytes were read, and wait until the next may be."""
        if self._rate is None:
            return
        now = self._clock()
        self._free_at = max(self._free_at, now) + count / self._rate
        self._sleep(self._free_at - now)


class CappedSource(CardSource):
    """A source that gives its bytes no faster than the cap."""

    def __init__(self, source: CardSource, cap: RateCap) -> None:
        self._source, self._cap = source, cap
        self._sizes: dict[str, int] = {}

    def walk(self) -> Iterator[Entry]:
        """As it is."""
        for entry in self._source.walk():
            self._sizes[entry.path] = entry.size
            yield entry

    def open(self, path: str) -> OpenFile:
        """What is read of it is held back."""
        return _CappedFile(self._source.open(path), self._cap)

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> list[OpenFile | SourceError]:
        """Held back before, by their sizes: some sources fetch them whole."""
        self._cap.spend(sum(self._sizes.get(path, 0) for path in paths))
        return self._source.open_ahead(paths, past_caches=past_caches)

    def require(self) -> None:
        """As it is."""
        self._source.require()


class _CappedFile(OpenFile):
    def __init__(self, file: OpenFile, cap: RateCap) -> None:
        self._file, self._cap = file, cap

    def read_into(self, view: memoryview) -> int:
        """Held back afterwards, by what came."""
        count = self._file.read_into(view)
        self._cap.spend(count)
        return count

    def read_now(self, view: memoryview) -> int:
        """Held back afterwards, by what came."""
        count = self._file.read_now(view)
        self._cap.spend(count)
        return count

    def is_sparse(self) -> bool:
        """As it is."""
        return self._file.is_sparse()

    def past_caches(self) -> bool:
        """As it is."""
        return self._file.past_caches()

    def read_at(self, offset: int, size: int) -> bytes:
        """Not held back: the few bytes of a fingerprint."""
        return self._file.read_at(offset, size)

    def descriptor(self) -> int:
        """As it is."""
        return self._file.descriptor()

    def size_and_time(self) -> tuple[int, int]:
        """As it is."""
        return self._file.size_and_time()

    def close(self) -> None:
        """As it is."""
        self._file.close()
