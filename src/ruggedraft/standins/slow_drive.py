"""A stand-in drive that can become slow, even while it is being written: every byte waits for its turn."""

import json
import time
from collections.abc import Callable, Sequence
from pathlib import Path

from ruggedraft.core.errors import StoreError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.stores import LocalStore, PendingFile
from ruggedraft.core.stores.local.parts import OpenPart, RunFolder
from ruggedraft.core.stores.port import Consume, Data, ToRead, Whole
from ruggedraft.core.transfer.capped import RateCap

SHEET = ".raft-standin-device"
SLOW_BYTES_PER_S = 2_000_000
_LOOK_EVERY_S = 0.5


class Pace:
    """Of one drive, as its sheet says at most half a second ago. sheet: the file that says so"""

    def __init__(self, sheet: Path) -> None:
        self._sheet, self._cap = sheet, RateCap(SLOW_BYTES_PER_S)
        self._looked_at, self._slow = float("-inf"), False

    def wait_for(self, count: int) -> None:
        """Before so many bytes go to it, or after they came from it."""
        now = time.monotonic()
        if now - self._looked_at >= _LOOK_EVERY_S:
            self._looked_at, self._slow = now, self._is_slow()
        if self._slow:
            self._cap.spend(count)

    def _is_slow(self) -> bool:
        try:
            return bool(json.loads(self._sheet.read_text()).get("slow"))
        except (OSError, ValueError):  # it was pulled: the store itself says so
            return False


class StandinDrive(LocalStore):
    """What a folder with a sheet is opened as."""

    moves = False

    def __init__(self, name: str, path: Path, sheet: Path) -> None:
        super().__init__(name, path)
        self._pace = Pace(sheet)

    def write(self, path: str, size: int = 0, mode: int | None = None) -> OpenPart:
        """Piece by piece, each in its turn."""
        return _PacedPart(self.name, self._running(), path, size, mode, self._pace)

    def write_whole(self, files: Sequence[Whole]) -> list[PendingFile | StoreError]:
        """All of them wait together."""
        self._pace.wait_for(sum(len(file.data) for file in files))
        return super().write_whole(files)

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """Piece by piece, each in its turn."""
        return super().read_back(path, lambda data: consume(self._paced(data)))

    def read_back_small(
        self, files: Sequence[ToRead], consume: Callable[[int, Data], object]
    ) -> list[Evidence | StoreError]:
        """File by file, each in its turn."""
        return super().read_back_small(files, lambda index, data: consume(index, self._paced(data)))

    def _paced(self, data: Data) -> Data:
        self._pace.wait_for(len(data))
        return data


class _PacedPart(OpenPart):
    def __init__(self, store: str, run: RunFolder, path: str, size: int, mode: int | None, pace: Pace) -> None:
        super().__init__(store, run, path, size, mode)
        self._pace = pace

    def write(self, data: Data) -> None:
        self._pace.wait_for(len(data))
        super().write(data)
