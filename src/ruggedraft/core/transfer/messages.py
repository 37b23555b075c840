"""What the reader tells a lane, one after the other."""

import pickle
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple, Protocol

from ..sources.listing import Entry, EntryKind
from .proving import Believed, Finish, Withdraw
from .report import FileRead


class Lent(Protocol):
    """Memory that is held until it is released."""

    @property
    def view(self) -> memoryview:
        """Its bytes."""

    def release(self) -> None:
        """Whoever was given it is done with it."""


class SmallFile(NamedTuple):
    """A whole file inside a buffer, read and hashed."""

    entry: Entry
    start: int
    read: FileRead


class SmallFiles(tuple[SmallFile, ...]):
    """Those of one buffer."""

    @cached_property
    def packed(self) -> bytes:
        """As other processes are told of them; made once for all of these."""
        return pickle.dumps([_plain(*one) for one in self])

    @classmethod
    def unpacked(cls, packed: bytes) -> "SmallFiles":
        """From `packed`."""
        return cls(_small_files(pickle.loads(packed)))  # noqa: S301 - from our own process


_Plain = tuple[str, int, int, str, int | None, int, str, tuple[str, ...], str]


def _plain(entry: Entry, start: int, read: FileRead) -> _Plain:
    """Without what is the same in both: tuples of plain values are packed in a third of the time."""
    path, _, size, modified_ns, detail, mode = entry
    return path, size, modified_ns, detail, mode, start, read.checksum, read.others, read.fingerprint


def _small_files(packed: Iterable[_Plain]) -> Iterable[SmallFile]:
    for path, size, modified_ns, detail, mode, start, checksum, others, fingerprint in packed:
        entry = Entry(path, EntryKind.FILE, size, modified_ns, detail, mode)
        yield SmallFile(entry, start, FileRead(size, modified_ns, checksum, others, fingerprint))


@dataclass(frozen=True)
class Batch:
    """Small files, in one buffer."""

    buffer: Lent
    files: SmallFiles


@dataclass(frozen=True)
class Begin:
    """A large file begins."""

    entry: Entry


@dataclass(frozen=True)
class Piece:
    """hole: nothing but zeros, of a file that has holes"""

    buffer: Lent
    count: int
    hole: bool


@dataclass(frozen=True)
class End:
    """The large file has been read whole."""

    read: FileRead


@dataclass(frozen=True)
class Give:
    """The card did not give this file whole; whatever was written of it is to be dropped."""

    reason: str


Message = Batch | Begin | Piece | End | Give | Believed | Withdraw | Finish
