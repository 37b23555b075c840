"""What the reader tells a lane, one after the other."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from ..sources.listing import Entry
from .buffers import Buffer
from .proving import Believed, Finish, Withdraw
from .report import FileRead


class SmallFile(NamedTuple):
    """A whole file inside a buffer, read and hashed."""

    entry: Entry
    start: int
    read: FileRead


@dataclass(frozen=True)
class Batch:
    """Small files, in one buffer."""

    buffer: Buffer
    files: Sequence[SmallFile]


@dataclass(frozen=True)
class Begin:
    """A large file begins."""

    entry: Entry


@dataclass(frozen=True)
class Piece:
    """hole: nothing but zeros, of a file that has holes"""

    buffer: Buffer
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
