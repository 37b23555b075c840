"""The port to whatever a card's bytes come from."""

from collections.abc import Callable, Iterator, Sequence
from typing import Protocol

from ..errors import SourceError
from .listing import Entry


class OpenFile(Protocol):
    """One file of a card, opened for reading from its start."""

    def read_into(self, view: memoryview) -> int:
        """Put the next bytes into `view` and say how many; 0 at the end. Raises SourceError."""

    def read_now(self, view: memoryview) -> int:
        """As `read_into`, but only what is at hand without waiting: perhaps nothing. Raises SourceError."""

    def is_sparse(self) -> bool:
        """Whether the card keeps fewer bytes of it than it has, as zeros that nobody wrote. Raises SourceError."""

    def past_caches(self) -> bool:
        """See to it that what is read from now on comes from the card; False if that cannot be had. Raises SourceError.

        A view that is read into afterwards had better begin at a page and be a multiple of pages long.
        """

    def read_at(self, offset: int, size: int) -> bytes:
        """Bytes from any place, fewer at the end; does not move the reading of `read`. Raises SourceError."""

    def ask_for(self, offset: int, size: int) -> None:
        """Say that these bytes are going to be read, so that the card may begin. Never raises."""
        return

    def descriptor(self) -> int:
        """The system's handle, for programs that read by themselves. Raises SourceUnreadable if there is none."""

    def size_and_time(self) -> tuple[int, int]:
        """(bytes, modification time in ns) as the card says now. Raises SourceError."""

    def close(self) -> None:
        """Let go of it; never raises."""


class CardSource(Protocol):
    """The port to a card in a reader. Never writes."""

    def walk(self) -> Iterator[Entry]:
        """Every entry, folders too, in any order. Raises SourceVanished."""

    def open(self, path: str) -> OpenFile:
        """Raises SourceVanished or SourceUnreadable."""

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> "list[OpenFile | SourceError]":
        """Open small files that are going to be read soon; for each what came of it.

        past_caches: see to it that what is read of them comes from the card
        """

    def require(self) -> None:
        """Raises SourceVanished if the card has gone since, or another one is in its place."""


class RemovableSource(CardSource, Protocol):
    """A card off which single files may be taken; the only thing that is ever changed on one."""

    def remove(self, path: str, is_same: Callable[[OpenFile], bool]) -> None:
        """Take one file off the card, if it is the one that is wanted gone.

        is_same: reads the file and says so; nothing but the file that it read is taken. Raises SourceChanged where it
        is another, or changed meanwhile; SourceVanished; SourceUnreadable where it cannot be read or taken off.
        """


def one_by_one(source: CardSource, paths: Sequence[str]) -> list[OpenFile | SourceError]:
    """`open_ahead` for cards that gain nothing by it."""
    opened: list[OpenFile | SourceError] = []
    for path in paths:
        try:
            opened.append(source.open(path))
        except SourceError as error:
            opened.append(error)
    return opened
