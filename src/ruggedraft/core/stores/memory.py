"""A store in memory that behaves like a real one, with faults on request."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from ..errors import Conflict, FileMissing, FileRefused, StoreError, StoreFull, StoreVanished
from ..evidence import Evidence
from ..files.confinement import parts_of
from ..sources.memory import MemorySource
from ..turns import Turns
from .aside import free_place
from .port import Consume, Data, Found, Notes, PendingFile, Room, Store


@dataclass
class MemoryStore(Store):
    """capacity: bytes. vanish_after: bytes written, then the store is gone.
    decay: called with (path, content) when a file is read back, returns what the store gives back."""

    name: str = "memory"
    capacity: int = 1 << 30
    vanish_after: int | None = None
    decay: Callable[[str, bytes], bytes] | None = None
    level: Evidence = Evidence.READ_BACK
    files: dict[str, tuple[bytes, int]] = field(default_factory=dict)
    folders: dict[str, int | None] = field(default_factory=dict)
    sealed: set[str] = field(default_factory=set)
    written: int = 0
    pending: int = 0
    is_open: bool = False
    noted: dict[str, bytes] = field(default_factory=dict)

    def open(self, turns: Turns | None = None) -> None:
        """Raises StoreVanished once it has gone."""
        self.check_present()
        self.is_open = True

    def notes(self, folder: str) -> "_MemoryNotes":
        """In `noted`, by the folder."""
        return _MemoryNotes(self, folder)

    def close(self) -> None:
        """Keeps all that was written."""
        self.is_open = False

    def room(self) -> Room:
        """What is on its way counts as used."""
        self.check_present()
        used = sum(len(content) for content, _ in self.files.values()) + self.pending
        return Room(self.capacity - used, self.capacity)

    def found(self, path: str) -> Found | None:
        """Folders are those that were settled."""
        self.check_present()
        parts_of(path)
        if path in self.files:
            return Found(True, len(self.files[path][0]))
        return Found(False, 0) if path in self.folders else None

    def write(self, path: str, size: int = 0, mode: int | None = None) -> "_MemoryFile":
        """Whether it fits shows as it is written."""
        parts_of(path)
        self.check_present()
        return _MemoryFile(self, path)

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """One by one: there is nothing to sync."""
        return [self._place(file, replace=replace) for file in files if isinstance(file, _MemoryFile)]

    def _place(self, file: "_MemoryFile", *, replace: bool) -> StoreError | None:
        try:
            if self.found(file.path) and not replace:
                return Conflict(f"something else is under this name on '{self.name}'")
        except StoreError as error:
            return error
        self.files[file.path] = (bytes(file.content), file.modified_ns)
        file.discard()
        return None

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Keeps the folders' times."""
        self.check_present()
        self.folders |= dict(folders)

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """Gives what `decay` makes of the content, at the level the store was made with."""
        self.check_present()
        if path not in self.files:
            raise FileMissing(f"it is missing on '{self.name}'")
        content = self.files[path][0]
        consume(self.decay(path, content) if self.decay else content)
        return self.level

    def seal(self, path: str) -> None:
        """Notes it: nothing here would write to it anyway."""
        self.check_present()
        self.sealed.add(path)

    def unseal(self, path: str) -> None:
        """Forgets that note."""
        self.check_present()
        self.sealed.discard(path)

    def as_source(self, folder: str) -> MemorySource:
        """All files get the time of one of them."""
        inside = {path: held for path, held in self.files.items() if path.startswith(folder + "/")}
        given = {path.removeprefix(folder + "/"): held[0] for path, held in inside.items()}
        return MemorySource(given, modified_ns=next((held[1] for held in inside.values()), 0))

    def look(self, folder: str) -> dict[str, tuple[int, int]]:
        """As `files` is now."""
        self.check_present()
        inside = folder + "/" if folder else ""
        return {
            path.removeprefix(inside): (len(held[0]), held[1])
            for path, held in self.files.items()
            if path.startswith(inside)
        }

    def read_whole(self, path: str, most: int) -> bytes | None:
        """Of `files`, whoever wrote it."""
        self.check_present()
        content = self.files.get(path, (None, 0))[0]
        if content is not None and len(content) > most:
            raise FileRefused(f"{path} on '{self.name}' is too large to be one of ours")
        return content

    def set_aside(self, path: str) -> str:
        """To a name that is free."""
        self.check_present()
        aside = free_place(path, lambda place: place in self.files)
        self.files[aside] = self.files.pop(path)
        return aside

    def withdraw(self, path: str) -> None:
        """Raises KeyError if it is not there: only what a run wrote is ever withdrawn."""
        self.check_present()
        del self.files[path]

    def check_present(self) -> None:
        """Raises StoreVanished once it has gone."""
        if self.vanish_after is not None and self.written >= self.vanish_after:
            raise StoreVanished(f"'{self.name}' is not there any more (No such device)")


class _MemoryNotes(Notes):
    """Another content is another stamp."""

    def __init__(self, store: MemoryStore, folder: str) -> None:
        self._store, self._folder = store, folder

    def read(self) -> bytes:
        self._store.check_present()
        return self._store.noted.get(self._folder, b"")

    def add(self, data: bytes) -> None:
        self._store.noted[self._folder] = self.read() + data

    def keep(self, count: int) -> None:
        self._store.noted[self._folder] = self.read()[:count]

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        files = self._store.files
        return [(hash(files[path]),) if path in files else None for path in paths]

    def forget(self) -> None:
        self._store.noted.pop(self._folder, None)


class _MemoryFile(PendingFile):
    def __init__(self, store: MemoryStore, path: str) -> None:
        self.path, self.content, self.modified_ns = path, bytearray(), 0
        self._store = store

    def write(self, data: Data) -> None:
        """Raises StoreFull where it does not fit, StoreVanished once enough was written."""
        self._store.check_present()
        if len(self.content) + len(data) > self._store.room().free:
            raise StoreFull(f"'{self._store.name}' is full (No space left on device)")
        self.content += data
        self._store.written += len(data)
        self._store.pending += len(data)

    def skip(self, count: int) -> None:
        """There are no holes here: zeros are written."""
        self.write(bytes(count))

    def end(self, modified_ns: int) -> None:
        """Keeps the time."""
        self.modified_ns = modified_ns

    def discard(self) -> None:
        """Gives its room back."""
        self._store.pending -= len(self.content)
        self.content.clear()
