"""A card in memory that behaves like a real one; for tests and trials."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from ..errors import SourceError, SourceUnreadable, SourceVanished
from .listing import Entry, EntryKind
from .port import CardSource, OpenFile, one_by_one


@dataclass
class MemorySource(CardSource):
    """A card in memory. Files that are in `unreadable` give a read error; `pull_after` bytes it is gone."""

    files: dict[str, bytes]
    modified_ns: int = 1_000_000_000
    unreadable: set[str] = field(default_factory=set)
    pull_after: int | None = None
    served: int = 0

    def walk(self) -> Iterator[Entry]:
        """Folders first, as they follow from the files' paths."""
        folders = {"/".join(path.split("/")[:n]) for path in self.files for n in range(1, path.count("/") + 1)}
        for folder in folders:
            yield Entry(folder, EntryKind.FOLDER, 0, self.modified_ns)
        for path, content in self.files.items():
            yield Entry(path, EntryKind.FILE, len(content), self.modified_ns)

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> list[OpenFile | SourceError]:
        """Nothing is gained by it here."""
        return one_by_one(self, paths)

    def open(self, path: str) -> "MemoryFile":
        """Whether it can be read shows when it is."""
        self.require()
        if path not in self.files:
            raise SourceUnreadable("it could not be read off the card (no such file)")
        return MemoryFile(self, path)

    def require(self) -> None:
        """Gone once as many bytes were served as `pull_after` says."""
        if self.pull_after is not None and self.served >= self.pull_after:
            raise SourceVanished("the card is gone from its reader")


class MemoryFile(OpenFile):
    """A file of such a card, read from its start."""

    def __init__(self, card: MemorySource, path: str) -> None:
        self._card, self._path, self._at = card, path, 0

    def read_into(self, view: memoryview) -> int:
        """What is served counts towards the moment at which the card is pulled."""
        self._card.require()
        if self._path in self._card.unreadable:
            raise SourceUnreadable("it could not be read off the card (Input/output error)")
        data = self._card.files[self._path][self._at : self._at + len(view)]
        view[: len(data)] = data
        self._at += len(data)
        self._card.served += len(data)
        return len(data)

    def read_now(self, view: memoryview) -> int:
        """Nothing is ever at hand, so that those who ask must wait as with a slow card."""
        return 0

    def is_sparse(self) -> bool:
        """Never."""
        return False

    def past_caches(self) -> bool:
        """There are none."""
        return True

    def read_at(self, offset: int, size: int) -> bytes:
        """Counts for nothing: headers do not pull a card."""
        self._card.require()
        if self._path in self._card.unreadable:
            raise SourceUnreadable("it could not be read off the card (Input/output error)")
        return self._card.files[self._path][offset : offset + size]

    def descriptor(self) -> int:
        """There is none."""
        raise SourceUnreadable("this card is in memory")

    def size_and_time(self) -> tuple[int, int]:
        """All files of such a card have one time."""
        return len(self._card.files[self._path]), self._card.modified_ns

    def close(self) -> None:
        """Nothing is to be let go of."""
        pass
