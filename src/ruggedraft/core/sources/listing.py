"""A card's listing: every entry as it stood at one moment."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import chain, islice
from operator import itemgetter
from typing import Protocol

from .entry import Entry, EntryKind
from .packed import Entries

__all__ = ["Entry", "EntryKind", "Listing", "Walks", "list_card"]

_MANY = 150_000
"""A listing of more entries is kept packed: slower to go through, and a sixth of the memory."""


@dataclass(frozen=True)
class Listing:
    """All entries of a card in path order."""

    entries: Sequence[Entry]

    @cached_property
    def files(self) -> Sequence[Entry]:
        """In path order."""
        return self._only(EntryKind.FILE)

    @cached_property
    def folders(self) -> Sequence[Entry]:
        """In path order."""
        return self._only(EntryKind.FOLDER)

    @cached_property
    def odd(self) -> Sequence[Entry]:
        """What can be neither copied nor ignored: links, special files, folders that cannot be listed."""
        return self._only(EntryKind.LINK, EntryKind.SPECIAL, EntryKind.UNREADABLE)

    @cached_property
    def closed(self) -> Sequence[Entry]:
        """The computer's own folders that do not open to us."""
        return self._only(EntryKind.SYSTEM)

    def _only(self, *kinds: EntryKind) -> Sequence[Entry]:
        if isinstance(self.entries, Entries):
            return self.entries.only(*kinds)
        return tuple(entry for entry in self.entries if entry.kind in kinds)

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
    walk = iter(source.walk())
    first = list(islice(walk, _MANY))
    if len(first) == _MANY:
        return Listing(Entries.of(chain(first, walk)))
    return Listing(tuple(sorted(first, key=itemgetter(0))))  # by path
