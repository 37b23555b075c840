"""What all stores have in common that are reached over a network: nothing there is a file of this machine."""

from abc import abstractmethod
from collections.abc import Callable, Iterator, Sequence
from typing import Protocol

from ..errors import (
    FileMissing,
    FileRefused,
    SourceError,
    SourceUnreadable,
    SourceVanished,
    StoreError,
    StoreStopped,
    StoreVanished,
)
from ..evidence import Evidence
from ..sources.listing import Entry, EntryKind
from ..sources.port import CardSource, OpenFile
from .aside import free_place
from .port import Consume, Data, Notes, Store, ToRead, beneath

MARK = ".raft-store"
"""A small file at a store's root that names it: an empty folder of the server has none."""
RUNS = ".raft-runs"
"""What is on its way lies beneath it, in a folder for each run."""
_LONGEST_MARK = 100  # bytes


class RemoteStore(Store):
    """A store on a server. mark: what its `MARK` must say, or empty where it is not a store yet."""

    mark = ""
    keeps_notes: "Callable[[], KeepsNotes] | None" = None
    """Where this machine keeps what runs note of the store; None: nothing is noted."""

    def __init__(self) -> None:
        self._names: dict[str, set[str]] = {}
        self._beside: KeepsNotes | None = None

    def notes(self, folder: str) -> "RemoteNotes | None":
        """On this machine: a server is not asked for what is only to save time."""
        if self.keeps_notes is None:
            return None
        self._beside = self._beside or self.keeps_notes()
        kept = self._beside.notes(folder)
        return RemoteNotes(kept, self) if kept else None

    def let_notes_go(self) -> None:
        """The run is over, and another may have them."""
        beside, self._beside = self._beside, None
        if beside:
            beside.close()

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """As in `Notes`. Nothing can be told where a server may lose what it said it had. Raises StoreError."""
        return [None] * len(paths)

    def forget_names(self) -> None:
        """What was listed is listed anew: a run begins, or something was moved."""
        self._names = {}

    def may_be_there(self, path: str) -> bool:
        """Whether something may stand under a name. Each folder is listed once a run, and not asked for every file.

        What somebody else puts there meanwhile is not written over: naming a file finds that out.
        """
        folder, _, name = path.rpartition("/")
        if folder not in self._names:
            self._names[folder] = self.names_in(folder)
        return name in self._names[folder]

    def named(self, path: str) -> None:
        """A file was given this name."""
        folder, _, name = path.rpartition("/")
        if folder in self._names:
            self._names[folder].add(name)

    @abstractmethod
    def names_in(self, folder: str) -> set[str]:
        """What stands directly in a folder, by its last part; empty where there is no folder. Raises StoreError."""

    def require(self) -> None:
        """Raises StoreVanished unless this store is there, not another one or an empty folder."""
        if not self.mark:
            return
        found = self.read_whole(MARK, _LONGEST_MARK)
        if found is None:
            raise StoreVanished(f"'{self.name}' is not there: its server answers, and its folder bears no mark")
        if found.decode(errors="replace").strip() != self.mark:
            raise StoreVanished(f"'{self.name}' is not there: another store is in its place on the server")

    @abstractmethod
    def facts(self, path: str) -> tuple[int, int | None] | None:
        """Size in bytes and modification time in ns (None where none is kept) of a file, or None where there is none.

        Raises StoreError.
        """

    @abstractmethod
    def read_at(self, path: str, offset: int, size: int) -> bytes:
        """Bytes from any place of a file, fewer only at its end. Raises StoreError."""

    @abstractmethod
    def read_many(self, paths: Sequence[str], expected: Sequence[int]) -> list[bytes | StoreError]:
        """Whole small files, fetched side by side, each to its very end, but for what is far longer than it should be.

        expected: bytes that each should have
        """

    @abstractmethod
    def move(self, path: str, to: str) -> None:
        """Rename, folders being made; never over anything. Raises StoreError."""

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """This machine keeps nothing of what a server gave: each byte comes over the network again."""
        offset = 0
        while piece := self.read_at(path, offset, _PIECE):
            consume(piece)
            offset += len(piece)
        return Evidence.READ_BACK

    def read_back_small(
        self, files: Sequence[ToRead], consume: Callable[[int, Data], object]
    ) -> list[Evidence | StoreError]:
        """A window of them at a time, each fetched to its end."""
        outcome: list[Evidence | StoreError] = []
        for start in range(0, len(files), _WINDOW):
            window = files[start : start + _WINDOW]
            contents = self.read_many([file.path for file in window], [file.size for file in window])
            for n, content in enumerate(contents, start):
                outcome.append(content if isinstance(content, StoreError) else Evidence.READ_BACK)
                if not isinstance(content, StoreError):
                    consume(n, content)
        return outcome

    def read_whole(self, path: str, most: int) -> bytes | None:
        """By what the server says its size is, and to its end."""
        facts = self.facts(path)
        if facts is None:
            return None
        if facts[0] > most:
            raise FileRefused(f"{path} on '{self.name}' is too large to be one of ours; it was left alone")
        content = self.read_at(path, 0, most + 1)
        if len(content) > most:
            raise FileRefused(f"{path} on '{self.name}' is too large to be one of ours; it was left alone")
        return content

    def set_aside(self, path: str) -> str:
        """By renaming, to a name that is free."""
        aside = free_place(path, lambda place: self.found(place) is not None)
        self.move(path, aside)
        self.forget_names()
        return aside

    def as_source(self, folder: str) -> "RemoteSource":
        """Raises SourceVanished where the store is not there now."""
        source = RemoteSource(self, folder)
        source.require()
        return source


_PIECE = 8 << 20  # bytes
_WINDOW = 64
"""Small files that are held at once while they are compared."""


class KeepsNotes(Protocol):
    """A place on this machine, such as a folder store."""

    def notes(self, folder: str) -> Notes | None:
        """As in `Store`."""

    def close(self) -> None:
        """Others may have them."""


class RemoteNotes(Notes):
    """What runs note of a store on a server lies on this machine; whether a file is what it was, the server tells."""

    def __init__(self, kept: Notes, store: RemoteStore) -> None:
        self._kept, self._store = kept, store

    def read(self) -> bytes:
        """As kept."""
        return self._kept.read()

    def add(self, data: bytes) -> None:
        """Perhaps lost with this machine's power: what is lost is read again."""
        self._kept.add(data)

    def keep(self, count: int) -> None:
        """As kept."""
        self._kept.keep(count)

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """As the server tells."""
        return self._store.stamps(paths)

    def forget(self) -> None:
        """And nobody holds them any more."""
        self._kept.forget()
        self._store.let_notes_go()


class RemoteSource(CardSource):
    """A folder of such a store as something to copy from."""

    def __init__(self, store: RemoteStore, folder: str) -> None:
        self._store, self._folder = store, folder
        self._sizes: dict[str, int] = {}

    def walk(self) -> Iterator[Entry]:
        """Files as the server lists them, and the folders that follow from their paths."""
        try:
            found = self._store.look(self._folder)
        except StoreError as error:
            raise _of_source(error) from error
        self._sizes = {path: size for path, (size, _) in found.items()}
        for folder in sorted({path[:n] for path in found for n, sign in enumerate(path) if sign == "/"}):
            yield Entry(folder, EntryKind.FOLDER)
        for path, (size, modified_ns) in found.items():
            yield Entry(path, EntryKind.FILE, size, modified_ns or 0)

    def open(self, path: str) -> "RemoteFile":
        """Whether it can be read shows when it is."""
        return RemoteFile(self._store, beneath(self._folder, path))

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> list[OpenFile | SourceError]:
        """All of them are fetched whole, side by side."""
        inside = [beneath(self._folder, path) for path in paths]
        given = self._store.read_many(inside, [self._sizes.get(path, 0) for path in paths])
        return [
            _of_source(one) if isinstance(one, StoreError) else RemoteFile(self._store, path, one)
            for path, one in zip(inside, given, strict=True)
        ]

    def require(self) -> None:
        """The store's mark is read again."""
        try:
            self._store.require()
        except StoreError as error:
            raise _of_source(error) from error


class RemoteFile(OpenFile):
    """Read from its start, piece by piece. content: of one that is at hand already"""

    def __init__(self, store: RemoteStore, path: str, content: bytes | None = None) -> None:
        self._store, self._path, self._content, self._at = store, path, content, 0

    def read_into(self, view: memoryview) -> int:
        """As much as was asked for, fewer only at the end."""
        data = self.read_at(self._at, len(view))
        view[: len(data)] = data
        self._at += len(data)
        return len(data)

    def read_now(self, view: memoryview) -> int:
        """Only of what was fetched already."""
        return self.read_into(view) if self._content is not None else 0

    def is_sparse(self) -> bool:
        """No server tells."""
        return False

    def past_caches(self) -> bool:
        """This machine keeps nothing of it."""
        return True

    def read_at(self, offset: int, size: int) -> bytes:
        """From what is at hand, else from the server."""
        if self._content is not None:
            return self._content[offset : offset + size]
        try:
            return self._store.read_at(self._path, offset, size)
        except StoreError as error:
            raise _of_source(error) from error

    def descriptor(self) -> int:
        """There is none."""
        raise SourceUnreadable("it is on a server: no program of this machine can open it")

    def size_and_time(self) -> tuple[int, int]:
        """As the server says now; 0 for a time that it does not keep."""
        try:
            facts = self._store.facts(self._path)
        except StoreError as error:
            raise _of_source(error) from error
        if facts is None:
            raise SourceUnreadable(f"it is missing on '{self._store.name}'")
        return facts[0], facts[1] or 0

    def close(self) -> None:
        """Nothing is held."""
        self._content = self._content and b""


def _of_source(error: StoreError) -> SourceError:
    """The same trouble, where the store is what is copied from."""
    if isinstance(error, StoreStopped):
        return SourceVanished(error.sentence)
    return SourceUnreadable(f"it could not be read ({error.sentence})")


def missing(name: str) -> FileMissing:
    """A file is not there, in the words that all kinds of store use."""
    return FileMissing(f"it is missing on '{name}'")
