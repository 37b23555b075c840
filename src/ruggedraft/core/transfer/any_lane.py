"""What the reader knows of a lane, wherever its work is done."""

from collections.abc import Mapping, Sequence
from typing import Protocol

from ..sources.listing import Entry
from .buffers import Buffer
from .messages import SmallFiles
from .patience import Lags
from .remembering import Proven
from .report import FileRead, StoreResult


class AnyLane(Lags, Protocol):
    """The reader calls `begin`, `piece` … and `end` or `give_up` for a large file, `batch` for small ones, `finish`.

    None of them waits or raises because of the store: its trouble ends up in `result`, the other lanes go on.
    Buffers are released when they are written.
    """

    @property
    def folder(self) -> str:
        """On the store."""

    @property
    def closes(self) -> bool:
        """Whether nothing of what it wrote is a copy before the store has settled it all."""

    @property
    def result(self) -> StoreResult:
        """What has become of the store's files so far; final after `wait`."""

    @property
    def silence(self) -> str | None:
        """Why nothing more was heard of it, if so."""

    def start(self) -> None:
        """Begin its work."""

    def known(self, patience_s: float) -> Mapping[str, Proven]:
        """What an earlier part of the run has proven on the store, and still stands there as it was.

        patience_s: seconds for the store to look; nothing is known of one that takes longer
        """

    def believe(self, files: Sequence[Entry]) -> None:
        """Files that are `known`, and are not read off the card again."""

    def begin(self, entry: Entry) -> None:
        """A large file begins; its pieces follow."""

    def piece(self, buffer: Buffer, count: int, *, hole: bool = False) -> None:
        """The next piece of the large file; releases the buffer when done. hole: zeros that the card does not keep"""

    def batch(self, buffer: Buffer, files: SmallFiles) -> None:
        """Small files that are in a buffer, whole. Releases it when done."""

    def end(self, read: FileRead) -> None:
        """The large file has been read whole, and this came of it."""

    def give_up(self, reason: str) -> None:
        """The large file could not be read to its end: nothing of it is to stay."""

    def withdraw(self, path: str, reason: str) -> None:
        """The card gave other bytes when it was read again: what was made of the first ones is not to stay."""

    def finish(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Say that nothing more comes, and which folders are to be settled. Call `wait` afterwards."""

    def wait(self, silent_s: float) -> None:
        """Wait for the end, or until the store has done nothing at all for so many seconds."""

    def close(self) -> None:
        """End the store's run, unless it was abandoned: then it may hang for ever."""
