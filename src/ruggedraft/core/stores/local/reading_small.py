"""Reading many small files back from the medium, side by side."""

import os
from collections import deque
from collections.abc import Callable, Sequence
from functools import partial
from itertools import groupby

from ...errors import FileMissing, StoreError, store_error
from ...evidence import Evidence
from ...files.confinement import Folders, parts_of, shut
from ...files.medium import drop_pages, keeps_more, read_now
from ...turns import Turn
from ..port import Consume, Data, ToRead

_READ = os.O_RDONLY | os.O_NONBLOCK | os.O_NOFOLLOW | os.O_CLOEXEC
_SIDE_BY_SIDE = 64
"""Small files that the system is asked to fetch at the same time."""


class ReadingSmall:
    """store: its name. scratch: memory for one file at a time. turn: of the thread that reads"""

    def __init__(self, store: str, folders: Folders, scratch: memoryview, turn: Turn) -> None:
        self._store, self._folders, self._scratch, self._turn = store, folders, scratch, turn

    def read(self, files: Sequence[ToRead], consume: Callable[[int, Data], object]) -> list[Evidence | StoreError]:
        """See `Store.read_back_small`."""
        outcome: list[Evidence | StoreError] = []
        waiting = deque(self._open_ahead(files[:_SIDE_BY_SIDE]))
        try:
            for start in range(0, len(files), _SIDE_BY_SIDE):
                waiting += self._open_ahead(files[start + _SIDE_BY_SIDE : start + 2 * _SIDE_BY_SIDE])
                for n in range(start, min(start + _SIDE_BY_SIDE, len(files))):
                    outcome.append(self._read_one(waiting.popleft(), partial(consume, n)))
        finally:
            for left in waiting:  # whoever consumes it has had enough
                if not isinstance(left, OSError):
                    shut(left[0])
        return outcome

    def _open_ahead(self, files: Sequence[ToRead]) -> list[tuple[int, bool] | OSError]:
        """Descriptors whose pages are dropped (and whether they really are), and that the system now fetches anew."""
        opened: list[tuple[int, bool] | OSError] = []
        for folder, group in groupby(files, _folder_of):
            wanted = list(group)
            try:
                with self._folders.at(parts_of(folder) if folder else ()) as parent:
                    hides = keeps_more(parent)
                    opened += [_fetch(file, parent, hides=hides) for file in wanted]
            except OSError as error:
                opened += [error] * len(wanted)
        return opened

    def _read_one(self, reading: tuple[int, bool] | OSError, consume: Consume) -> Evidence | StoreError:
        if isinstance(reading, OSError):
            missing = isinstance(reading, FileNotFoundError)
            return FileMissing(f"it is missing on '{self._store}'") if missing else store_error(reading, self._store)
        descriptor, past_caches = reading
        view = self._scratch
        try:
            count = read_now(descriptor, view, 0)
            if count < os.fstat(descriptor).st_size:  # as it is now: it may be longer than what was written
                with self._turn.aside():
                    while more := os.preadv(descriptor, [view[count:]], count):
                        count += more
        except OSError as error:
            return store_error(error, self._store)
        finally:
            shut(descriptor)
        consume(view[:count])
        return Evidence.READ_BACK if past_caches else Evidence.WRITTEN


def _folder_of(file: ToRead) -> str:
    return file.path.rpartition("/")[0]


def _fetch(file: ToRead, parent: int, *, hides: bool) -> tuple[int, bool] | OSError:
    descriptor = -1
    try:
        descriptor = os.open(file.path.rpartition("/")[2], _READ, dir_fd=parent)
        dropped = drop_pages(descriptor, file.size)
        os.posix_fadvise(descriptor, 0, 0, os.POSIX_FADV_WILLNEED)
    except OSError as error:
        if descriptor >= 0:
            shut(descriptor)
        return error
    return descriptor, dropped and not hides
