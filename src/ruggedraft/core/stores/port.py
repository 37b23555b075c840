"""What the engine needs of a store.

A new kind of store inherits from `Store`, implements what is abstract there, and its tests inherit
`tests/core/store_contract.py`.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple, Protocol

from ..errors import FileRefused, StoreError
from ..evidence import Evidence
from ..files.medium import LARGE
from ..hashing import Algorithm
from ..sources.port import CardSource
from ..turns import Turns

Data = bytes | bytearray | memoryview
Consume = Callable[[Data], object]


UNBOUNDED = 1 << 60
"""Bytes that a store has which says of no end."""


def beneath(folder: str, path: str) -> str:
    """A path inside a folder of a store; the folder is empty for the store itself.

    >>> beneath("A001", "x"), beneath("", "x")
    ('A001/x', 'x')
    """
    return f"{folder}/{path}" if folder else path


class StoreKind(StrEnum):
    """How a store is reached."""

    FOLDER = "folder"
    """a folder of a mounted file system"""
    SFTP = "sftp"
    """a folder of an SFTP server"""
    OBJECTS = "objects"
    """a bucket of an object storage"""
    WEBDAV = "webdav"
    """a folder of a WebDAV server"""
    PACKAGES = "packages"
    """a folder of a mounted file system, in which each copy is one sealed file"""

    @property
    def is_local(self) -> bool:
        """Whether it is a folder of this machine."""
        return self in (StoreKind.FOLDER, StoreKind.PACKAGES)


@dataclass(frozen=True)
class Room:
    """free, total: bytes that a file may take now, and bytes the store has in all"""

    free: int
    total: int


@dataclass(frozen=True)
class Found:
    """What stands under a name. `is_file` is False for folders, links and anything else."""

    is_file: bool
    size: int


class Whole(NamedTuple):
    """A small file that is at hand in whole, to be written under `path`. mode: None where it is not known."""

    path: str
    data: memoryview
    modified_ns: int
    mode: int | None


class ToRead(NamedTuple):
    """A small file to be read back. size: bytes it is expected to have."""

    path: str
    size: int


class Notes(Protocol):
    """A small file of ours on a store that outlives a run: what runs wrote down there for those that go on with them.

    Nothing rests on its being there, nor on what it says: whoever reads it proves that first.
    """

    def read(self) -> bytes:
        """All of it; empty where there is none, and where another run is using it. Raises StoreError."""

    def add(self, data: bytes) -> None:
        """Append. It is durable with what is committed next. Raises StoreError."""

    def keep(self, count: int) -> None:
        """Cut off what comes after so many bytes. Raises StoreError."""

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """Of each file something that is another one once the file was touched; None where that cannot be told."""

    def forget(self) -> None:
        """Away with it. Never raises."""


class _Enough(Exception):
    """Longer than anything that was asked for."""


def whole_of(read: Callable[[Consume], Evidence], size: int) -> tuple[bytearray, Evidence]:
    """All that `read` feeds of a file that should have `size` bytes, in memory; once it is far longer, no more of it.

    Raises what `read` does.
    """
    content = bytearray()

    def take(data: Data) -> None:
        content.extend(data[: size + LARGE + 1 - len(content)])
        if len(content) > size + LARGE:
            raise _Enough

    try:
        return content, read(take)
    except _Enough:
        return content, Evidence.WRITTEN


class PendingFile(Protocol):
    """A file on its way: invisible under its final name until it is committed."""

    def write(self, data: Data) -> None:
        """Append. Raises StoreError."""

    def skip(self, count: int) -> None:
        """Append so many zero bytes, as a hole where the store has such. Raises StoreError."""

    def end(self, modified_ns: int) -> None:
        """Nothing more is written. Raises StoreError, after which the file can only be discarded."""

    def discard(self) -> None:
        """Forget it; nothing is left behind. Never raises; does nothing after it was committed."""


class Store(ABC):
    """One store, used by one run. All paths are relative, `/` between parts. Errors are StoreError."""

    name: str
    attests: bool = False
    """Its server's own word is taken for what a run wrote there."""
    closes: bool = False
    """A copy is closed when the run ends that wrote it: nothing is added to it, changed or taken out of it after."""
    moves: bool = False
    """It is no more than a name and a place, so that another process can write it: pickled, it is the same store."""

    @abstractmethod
    def open(self, turns: Turns | None = None) -> None:
        """Get ready for a run. Leftovers of runs that are no longer alive are cleared away.

        turns: how the run's threads get out of each other's way
        """

    def begin(self, folder: str) -> None:
        """What is written beneath this folder from now on is one copy; most kinds of store need not know. Between
        `open` and the first file. Raises StoreError."""
        return

    def notes(self, folder: str) -> Notes | None:
        """What runs that write beneath this folder remember of each other; None where the kind of store keeps none."""
        return None

    @abstractmethod
    def close(self) -> None:
        """End the run; never raises."""

    @abstractmethod
    def room(self) -> Room:
        """Bytes free and in all, as the store says now."""

    @abstractmethod
    def found(self, path: str) -> Found | None:
        """What stands under this name, or None."""

    @abstractmethod
    def write(self, path: str, size: int = 0, mode: int | None = None) -> PendingFile:
        """Begin a file; its folders are made when it is committed.

        size: bytes that are going to come, as far as is known. mode: permissions to have where the store knows such.
        """

    def write_whole(self, files: Sequence[Whole]) -> "list[PendingFile | StoreError]":
        """Write small files, each as `write` and `end` do; for each what became of it.

        One after the other, unless a kind of store gains something by taking many at a time.
        """
        return [self._written(file) for file in files]

    def _written(self, file: Whole) -> "PendingFile | StoreError":
        try:
            pending = self.write(file.path, len(file.data), file.mode)
        except StoreError as error:
            return error
        try:
            pending.write(file.data)
            pending.end(file.modified_ns)
        except StoreError as error:
            pending.discard()
            return error
        return pending

    @abstractmethod
    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Sync files that have ended, together, then give each its name, never over another one unless `replace`.

        Returns for each None, or why it is not there; a Conflict if something else stands under its name.
        """

    @abstractmethod
    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Make folders that are missing, set their times where such are given, and make their entries durable.

        Raises StoreError, after which nothing is known to be durable.
        """

    @abstractmethod
    def read_back(self, path: str, consume: Consume) -> Evidence:
        """Feed every byte of a file to `consume`. Raises StoreError.

        Returns READ_BACK if they came past this machine's caches, a lower level if they may not have.
        """

    def read_back_small(
        self, files: Sequence[ToRead], consume: Callable[[int, Data], object]
    ) -> "list[Evidence | StoreError]":
        """The same for small files, which may be fetched side by side: `consume` gets (index, the whole content).

        Of one that is far longer than it should be it gets as much as shows that. What it raises ends the reading.
        """
        return [self._read_whole_back(index, file, consume) for index, file in enumerate(files)]

    def _read_whole_back(
        self, index: int, file: ToRead, consume: Callable[[int, Data], object]
    ) -> "Evidence | StoreError":
        try:
            content, level = whole_of(lambda take: self.read_back(file.path, take), file.size)
        except StoreError as error:
            return error
        consume(index, content)
        return level

    def attested(self, files: Sequence[tuple[str, str]], algorithm: Algorithm) -> list[bool | None]:
        """Whether the store's own server, from what it holds, comes to the checksum of each (path, checksum).

        None where it cannot say, or is not to be asked: then that file is read back. Raises StoreError.
        """
        return [None] * len(files)

    def seal(self, path: str) -> None:
        """Make a file read-only, by its permissions and where the system has such by a flag that forbids any change.

        Raises FileRefused where the kind of store knows no such thing.
        """
        raise FileRefused(f"'{self.name}' cannot make files read-only")

    def unseal(self, path: str) -> None:
        """Undo `seal`; nothing where the kind of store knows no such thing."""
        return

    @abstractmethod
    def as_source(self, folder: str) -> CardSource:
        """A folder as something to copy from. Raises SourceVanished."""

    @abstractmethod
    def look(self, folder: str) -> Mapping[str, tuple[int, int | None]]:
        """Every file beneath a folder, by its path inside it: its size in bytes and its modification time in ns, as the
        store says now; None where it keeps no times. Empty where the folder is not there. Raises StoreError.

        folder: empty for the whole store. What a file system keeps closed at its top is passed over.
        """

    def each_there(self, folder: str) -> Iterator[tuple[str, tuple[int, int | None]]]:
        """What `look` tells, one after the other. Raises StoreError, also at its end: then nothing it told counts."""
        yield from self.look(folder).items()

    @abstractmethod
    def read_whole(self, path: str, most: int) -> bytes | None:
        """A small file of ours, such as a list; None if there is none. Raises StoreError, also if it has more bytes."""

    @abstractmethod
    def set_aside(self, path: str) -> str:
        """Move a damaged file out of the way, whatever it holds, and return where it is now. Raises StoreError."""

    @abstractmethod
    def withdraw(self, path: str) -> None:
        """Remove a file: one that this run wrote and found to be wrong, a list it has replaced, what is to make room.

        Raises FileMissing where there is none, StoreError.
        """

    def tidy(self, folder: str) -> None:
        """Take away folders that hold nothing, in this one and itself, where the kind of store has such; no errors."""
        return
