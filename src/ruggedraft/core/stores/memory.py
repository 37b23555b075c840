"""A store in memory with the manners of a real one, and faults that can be asked for."""

from collections.abc import Callable
from dataclasses import dataclass, field

from ..confinement import parts_of
from ..errors import Conflict, FileRefused, StoreFull, StoreVanished
from ..evidence import Evidence
from .port import Consume, Data, Found, Room


@dataclass
class MemoryStore:
    """capacity: bytes. vanish_after: bytes written, then the store is gone.
    decay: called with (path, content) when a file is read back, returns what the store gives back."""

    name: str = "memory"
    capacity: int = 1 << 30
    vanish_after: int | None = None
    decay: Callable[[str, bytes], bytes] | None = None
    level: Evidence = Evidence.READ_BACK
    files: dict[str, tuple[bytes, int]] = field(default_factory=dict)
    folders: dict[str, int | None] = field(default_factory=dict)
    written: int = 0
    is_open: bool = False

    def open(self) -> None:
        self.check_present()
        self.is_open = True

    def close(self) -> None:
        self.is_open = False

    def room(self) -> Room:
        self.check_present()
        used = sum(len(content) for content, _ in self.files.values())
        return Room(self.capacity - used, self.capacity)

    def found(self, path: str) -> Found | None:
        self.check_present()
        parts_of(path)
        if path in self.files:
            return Found(True, len(self.files[path][0]))
        return Found(False, 0) if path in self.folders else None

    def write(self, path: str) -> "_MemoryFile":
        parts_of(path)
        self.check_present()
        return _MemoryFile(self, path)

    def settle(self, folder: str, modified_ns: int | None) -> None:
        self.check_present()
        self.folders[folder] = modified_ns

    def read_back(self, path: str, consume: Consume) -> Evidence:
        self.check_present()
        if path not in self.files:
            raise FileRefused(f"it is missing on '{self.name}'")
        content = self.files[path][0]
        consume(self.decay(path, content) if self.decay else content)
        return self.level

    def withdraw(self, path: str) -> None:
        self.check_present()
        del self.files[path]

    def check_present(self) -> None:
        if self.vanish_after is not None and self.written >= self.vanish_after:
            raise StoreVanished(f"'{self.name}' is not there any more (No such device)")


class _MemoryFile:
    def __init__(self, store: MemoryStore, path: str) -> None:
        self._store, self._path, self._content = store, path, bytearray()

    def write(self, data: Data) -> None:
        self._store.check_present()
        if len(self._content) + len(data) > self._store.room().free:
            raise StoreFull(f"'{self._store.name}' is full (No space left on device)")
        self._content += data
        self._store.written += len(data)

    def commit(self, modified_ns: int, *, replace: bool = False) -> None:
        self._store.check_present()
        if self._store.found(self._path) and not replace:
            raise Conflict(f"something else is under this name on '{self._store.name}'")
        self._store.files[self._path] = (bytes(self._content), modified_ns)

    def discard(self) -> None:
        self._content.clear()
