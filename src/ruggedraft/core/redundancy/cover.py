"""What is known of everything on a card: in which rolls it is, what was said of it, and when it came."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple, TypeVar

from .facts import ClearanceFact, FileFact, RollFacts, WaiverFact

MOST_NAMED = 50
"""So many of the files that fare alike are remembered by name; of the others only how many they are."""


@dataclass(frozen=True)
class Files:
    """Some files of a card. bytes: of those that are files. paths: the first of them, in order, at most MOST_NAMED."""

    count: int = 0
    bytes: int = 0
    paths: tuple[str, ...] = ()

    def __add__(self, other: "Files") -> "Files":
        paths = tuple(sorted((*self.paths, *other.paths))[:MOST_NAMED])
        return Files(self.count + other.count, self.bytes + other.bytes, paths)

    @classmethod
    def of(cls, entries: Iterable[FileFact]) -> "Files":
        """Count some entries; sizes in bytes."""
        entries = sorted(entries)
        paths = tuple(entry.path for entry in entries[:MOST_NAMED])
        return cls(len(entries), sum(max(entry.size, 0) for entry in entries), paths)


class Known(NamedTuple):
    """What is known of one entry of a card. It follows from facts that never change.

    sure: tags of the rolls whose content it is, as path, size, time and fingerprint show
    maybe: tags of rolls that have a file like it, of which a fingerprint is missing
    unread: one of those files was never read off the card, so that there is nothing to compare with
    waived: said to need no cover. left: left on the card on purpose when a roll was taken
    came: not on the card when it was last cleared
    """

    sure: frozenset[str] = frozenset()
    maybe: frozenset[str] = frozenset()
    unread: bool = False
    waived: bool = False
    left: bool = False
    came: bool = False


@dataclass(frozen=True)
class Cover:
    """The entries of a card, grouped by what is known of them. cleared: how many entries it was last cleared with."""

    groups: Mapping[Known, Files] = field(default_factory=dict)
    cleared: int = 0

    @property
    def files(self) -> int:
        """How many entries there are."""
        return sum(files.count for files in self.groups.values())

    def where(self, test: Callable[[Known], bool]) -> Files:
        """Those of which what is known passes a test."""
        return sum((files for known, files in self.groups.items() if test(known)), Files())

    @property
    def came(self) -> int:
        """How many came onto a cleared card since."""
        return self.where(lambda known: known.came).count

    @property
    def left(self) -> Files:
        """Left on the card on purpose, lying there now, in no roll and not waived."""
        return self.where(is_left)

    def as_data(self) -> dict[str, Any]:
        """For JSON."""
        groups = [
            [sorted(known.sure), sorted(known.maybe), *known[2:], files.count, files.bytes, list(files.paths)]
            for known, files in self.groups.items()
        ]
        return {"groups": groups, "cleared": self.cleared}

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Cover":
        """The inverse of `as_data`."""
        groups = {}
        for sure, maybe, unread, waived, left, came, count, size, paths in data["groups"]:
            known = Known(frozenset(sure), frozenset(maybe), unread, waived, left, came)
            groups[known] = Files(count, size, tuple(paths))
        return cls(groups, data["cleared"])


def is_left(known: Known) -> bool:
    """Whether an entry was left on the card on purpose and nothing else is known of it."""
    return known.left and not known.waived and not known.sure and not known.maybe


def cover_of(
    entries: Iterable[FileFact],
    rolls: Iterable[RollFacts],
    waivers: Iterable[WaiverFact] = (),
    clearance: ClearanceFact | None = None,
    left: Iterable[FileFact] = (),
) -> Cover:
    """Group what is on a card. rolls: with their content. left: what stayed on it on purpose when rolls were taken"""
    return grouped(each_known(entries, rolls, waivers, clearance, left), clearance)


def grouped(files: Iterable[tuple[FileFact, Known]], clearance: ClearanceFact | None) -> Cover:
    """The same, of what `each_known` says."""
    found: dict[Known, list[FileFact]] = {}
    for entry, known in files:
        found.setdefault(known, []).append(entry)
    cleared = len(clearance.entries) if clearance else 0
    return Cover({known: Files.of(files) for known, files in found.items()}, cleared)


def each_known(
    entries: Iterable[FileFact],
    rolls: Iterable[RollFacts],
    waivers: Iterable[WaiverFact] = (),
    clearance: ClearanceFact | None = None,
    left: Iterable[FileFact] = (),
) -> Iterable[tuple[FileFact, Known]]:
    """Each entry with what is known of it."""
    said = _Said(
        _by_seen((file, roll.tag) for roll in rolls for file in roll.content),
        _by_seen((waiver.file, "") for waiver in waivers),
        _by_seen((file, "") for file in clearance.entries) if clearance else None,
        _by_seen((file, "") for file in left),
    )
    named = {*said.content, *said.waived, *said.stayed, *(said.cleared or ())}
    nothing = Known(came=clearance is not None)
    for entry in entries:  # most of a card that was never offloaded is named nowhere
        yield entry, said.of(entry) if entry.seen in named else nothing


class _Said(NamedTuple):
    """Files by path and size. content: of rolls, with their tags. cleared: what was there then; None before"""

    content: "_BySeen[str]"
    waived: "_BySeen[str]"
    cleared: "_BySeen[str] | None"
    stayed: "_BySeen[str]"

    def of(self, entry: FileFact) -> Known:
        """What is known of it."""
        return _in_rolls(entry, self.content.get(entry.seen, ()))._replace(
            waived=_is_among(entry, self.waived),
            left=any(entry.is_like(file) for file, _ in self.stayed.get(entry.seen, ())),
            came=self.cleared is not None and not _is_among(entry, self.cleared),
        )


def _in_rolls(entry: FileFact, like: Iterable[tuple[FileFact, str]]) -> Known:
    """like: files of this path and size, each with the tag of its roll"""
    may_be = [(file, tag) for file, tag in like if entry.may_be(file)]
    return Known(
        frozenset(tag for file, tag in like if entry.is_surely(file)),
        frozenset(tag for _, tag in may_be),
        unread=any(not file.fingerprint for file, _ in may_be),
    )


_Of = TypeVar("_Of")
_BySeen = Mapping[tuple[str, int], list[tuple[FileFact, _Of]]]


def _by_seen(pairs: Iterable[tuple[FileFact, _Of]]) -> _BySeen[_Of]:
    found: dict[tuple[str, int], list[tuple[FileFact, _Of]]] = {}
    for file, what in pairs:
        found.setdefault(file.seen, []).append((file, what))
    return found


def _is_among(entry: FileFact, files: _BySeen[str]) -> bool:
    """What is said of a file is said of it as it was. What cannot be read has no fingerprint, neither then nor now."""
    return any(
        entry.is_surely(file) or (not entry.fingerprint and not file.fingerprint and entry.is_like(file))
        for file, _ in files.get(entry.seen, ())
    )
