"""A card's listing: every entry as it stood at one moment."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from operator import itemgetter
from typing import NamedTuple, Protocol


class EntryKind(StrEnum):
    """What stands under a name."""

    FILE = "file"
    FOLDER = "folder"
    LINK = "link"
    SPECIAL = "special"
    """a pipe, socket or device file: nothing that can be copied"""
    UNREADABLE = "unreadable"
    """a folder whose content could not be listed"""
    SYSTEM = "system folder"
    """a folder that a computer keeps for itself at the top of a file system, closed to us; no camera writes there"""


class Entry(NamedTuple):
    """One name on a card. A tuple, as there are tens of thousands of them.

    path: relative to the card, `/` between parts, surrogate-escaped
    size: bytes; 0 for everything but files
    modified_ns: modification time in nanoseconds since 1970-01-01 UTC
    detail: where a link points, or why a folder cannot be read
    mode: permissions, where known
    """

    path: str
    kind: EntryKind
    size: int = 0
    modified_ns: int = 0
    detail: str = ""
    mode: int | None = None

    @property
    def needs_cover(self) -> bool:
        """Whether this must be in a copy, or waived, before the card may go. Only folders carry nothing."""
        return self.kind not in (EntryKind.FOLDER, EntryKind.SYSTEM)


@dataclass(frozen=True)
class Listing:
    """All entries of a card in path order."""

    entries: tuple[Entry, ...]

    @cached_property
    def files(self) -> tuple[Entry, ...]:
        """In path order."""
        return tuple(entry for entry in self.entries if entry.kind is EntryKind.FILE)

    @cached_property
    def folders(self) -> tuple[Entry, ...]:
        """In path order."""
        return tuple(entry for entry in self.entries if entry.kind is EntryKind.FOLDER)

    @cached_property
    def odd(self) -> tuple[Entry, ...]:
        """What can be neither copied nor ignored: links, special files, folders that cannot be listed."""
        return tuple(e for e in self.entries if e.needs_cover and e.kind is not EntryKind.FILE)

    @cached_property
    def closed(self) -> tuple[Entry, ...]:
        """The computer's own folders that do not open to us."""
        return tuple(entry for entry in self.entries if entry.kind is EntryKind.SYSTEM)

    @property
    def bytes(self) -> int:
        """Of all its files."""
        return sum(entry.size for entry in self.files)

    @property
    def span_ns(self) -> tuple[int, int] | None:
        """The first and the last modification time of its files."""
        times = [entry.modified_ns for entry in self.files]
        return (min(times), max(times)) if times else None


class Walks(Protocol):
    """What can be listed: the part of a card source that listing needs."""

    def walk(self) -> Iterable[Entry]:
        """Every entry, in any order. Raises SourceVanished."""


def list_card(source: Walks) -> Listing:
    """List everything on a card. Raises SourceVanished when it goes away meanwhile: half a listing is none."""
    return Listing(tuple(sorted(source.walk(), key=itemgetter(0))))  # by path
