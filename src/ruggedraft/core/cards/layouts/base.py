"""What every layout answers."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Protocol

from ...sources.listing import Entry
from ..clips import Clip
from ..findings import Finding
from ..tree import Tree

IndexNames = Mapping[str, tuple[str, ...]]
"""For each index file on the card, the paths of the recordings that it names."""


@dataclass(frozen=True)
class Reading:
    """What a layout makes of its part of a card. `structure`: its own files that belong to no clip."""

    clips: tuple[Clip, ...]
    structure: tuple[Entry, ...] = ()
    findings: tuple[Finding, ...] = ()


class Layout(Protocol):
    """A card layout. `name` is what people see.

    kept_whole: its files refer to one another by name, so that none of them may be renamed or moved
    """

    name: str
    kept_whole: bool

    def roots(self, tree: Tree) -> list[str]:
        """The folders of the card that carry this layout, down from which all is its own."""

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """The clips beneath a root. `taken`: paths that a more telling layout has already."""

    def index_files(self, tree: Tree, root: str) -> Iterable[str]:
        """Files that name recordings and have to be opened to learn which."""

    def names_in(self, index: str, content: bytes) -> tuple[str, ...]:
        """Paths on the card of the recordings that an index file names."""

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """How many levels the card is above a folder, judged by the folder's path; 0 if it is not inside one."""


class WithoutIndex(Layout):
    """For layouts whose files are named by nothing but their names."""

    def index_files(self, tree: Tree, root: str) -> Iterable[str]:
        """None."""
        return ()

    def names_in(self, index: str, content: bytes) -> tuple[str, ...]:
        """Nothing."""
        return ()


def own(entries: Iterable[Entry], taken: frozenset[str]) -> list[Entry]:
    """Entries that no other layout has."""
    return [entry for entry in entries if entry.path not in taken]


def left_over(entries: Iterable[Entry], clips: Iterable[Clip]) -> tuple[Entry, ...]:
    """Entries that belong to none of these clips."""
    held = {entry.path for clip in clips for entry in clip.entries}
    return tuple(entry for entry in entries if entry.path not in held)


def levels_beneath(folders: tuple[str, ...], way: tuple[str, ...]) -> int:
    """How far a path's end reaches down the way from a card's root to a layout's folders, in any case.

    >>> levels_beneath(("media", "x", "PRIVATE", "AVCHD"), ("PRIVATE", "AVCHD", "BDMV", "STREAM"))
    2
    """
    upper = tuple(folder.upper() for folder in folders)
    return max((n for n in range(1, len(way) + 1) if upper[-n:] == way[:n]), default=0)
