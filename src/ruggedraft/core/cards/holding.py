"""How much of a card do we already hold? By path, size, time and fingerprint, against everything ever taken."""

from collections import Counter
from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import NamedTuple

from ..redundancy.facts import same_time
from ..sources.listing import Entry


class Holding(StrEnum):
    """What the ledger knows of a file on a card."""

    HELD = "held"
    """the same path, size, time and fingerprint, or the same content, was read off this card since its last format"""
    UNSURE = "unsure"
    """the same path, size and time; its fingerprint was not compared yet"""
    NEW = "new"
    CHANGED = "changed"
    """its roll has a file of this name with another size, time or content"""
    LEFT = "left"
    """somebody decided, by name, that it need not be taken"""
    ALIKE = "alike"
    """a roll of another camera, or of before a format, has a file of this path, size and time: perhaps the same one"""


class Known(NamedTuple):
    """A file of the ledger, read off a card, that a file on this card may be. roll: its tag.

    same_format: it was taken off this card since its last format, as far as that can be told
    """

    path: str
    size: int
    modified_ns: int
    roll: str
    own_camera: bool
    same_roll: bool
    checksum: str = ""
    algorithm: str = ""
    fingerprint: str = ""
    same_format: bool = True

    @property
    def is_own(self) -> bool:
        """The same camera took it, or the same roll has it, and the card was not formatted since."""
        return (self.own_camera or self.same_roll) and self.same_format

    @property
    def was_here(self) -> bool:
        """The card's last roll has it, and the card was not formatted since."""
        return self.same_roll and self.same_format


class Held(NamedTuple):
    """What became of one file on the card. `roll`: the tag of the roll it was found in, if any."""

    holding: Holding
    roll: str = ""


def hold(
    entries: Iterable[Entry],
    known: Iterable[Known],
    left: frozenset[tuple[str, int, int]] = frozenset(),
    read: Mapping[str, tuple[str, str]] | None = None,
    fingerprints: Mapping[str, str] | None = None,
) -> dict[str, Held]:
    """What is held of these files.

    known: the ledger's files that share path, size and time with one of them; the files of the roll that is on the
        card; and those that share a checksum with one that was read
    left: path, size and time of files that were left behind or waived
    read: algorithm and checksum of files that were read for comparison. What reading says outweighs the rest.
    fingerprints: of the card's files, as far as they were taken

    Size and time are a hint and no proof: two recorders locked to one clock write files of one name, size and time that
    hold different sounds, and so does a camera without a clock after a format.
    """
    by_path: dict[str, list[Known]] = {}
    by_content: dict[tuple[str, str, int], Known] = {}
    for one in known:
        by_path.setdefault(one.path, []).append(one)
        by_content.setdefault((one.algorithm, one.checksum, one.size), one)
    found, read, new = {}, read or {}, Held(Holding.NEW)
    fingerprints = fingerprints or {}
    for entry in entries:
        was_read = read.get(entry.path)
        same = by_content.get((*was_read, entry.size)) if was_read else None
        if same:
            found[entry.path] = Held(Holding.HELD, same.roll)
        elif entry.path not in by_path and not left:
            found[entry.path] = new
        else:
            ends = fingerprints.get(entry.path, "")
            found[entry.path] = _judge(entry, by_path.get(entry.path, []), left, was_read, ends)
    return found


def _judge(
    entry: Entry,
    known: list[Known],
    left: frozenset[tuple[str, int, int]],
    was_read: tuple[str, str] | None,
    fingerprint: str,
) -> Held:
    same = [one for one in known if _may_be(one, entry, was_read, fingerprint)]
    for one in same:
        if one.is_own:
            return _held_as_own(one, fingerprint)
    for one in known:
        if one.was_here:
            return Held(Holding.CHANGED, one.roll)
    if (entry.path, entry.size, entry.modified_ns) in left:
        return Held(Holding.LEFT)
    return Held(Holding.ALIKE, same[0].roll) if same else Held(Holding.NEW)


def _held_as_own(one: Known, fingerprint: str) -> Held:
    """Surely only where the ends of both are known: then they are alike, or it would not have come to this."""
    return Held(Holding.HELD if fingerprint and one.fingerprint else Holding.UNSURE, one.roll)


def _may_be(one: Known, entry: Entry, was_read: tuple[str, str] | None, fingerprint: str) -> bool:
    """Of the same size and time, and not known to be another file."""
    if one.size != entry.size or not same_time(one.modified_ns, entry.modified_ns):
        return False
    return not _differs(one, was_read) and not _other_ends(one, fingerprint)


def _other_ends(one: Known, fingerprint: str) -> bool:
    return bool(one.fingerprint and fingerprint) and one.fingerprint != fingerprint


def _differs(one: Known, was_read: tuple[str, str] | None) -> bool:
    return was_read is not None and one.algorithm == was_read[0] and one.checksum != was_read[1]


def shifted_by(entries: Iterable[Entry], known: Iterable[Known]) -> int | None:
    """Whole quarter hours (in seconds) by which every time of a card differs from its roll's, None if they do not so.

    FAT keeps local time without a zone (Microsoft, 'FAT File System Specification' 1.03): a station that moved to
    another zone, or to summer time, sees every file of a card changed by the same hours.
    """
    times = {(one.path, one.size): one.modified_ns for one in known if one.same_roll}
    apart = Counter(
        entry.modified_ns - times[entry.path, entry.size] for entry in entries if (entry.path, entry.size) in times
    )
    if len(apart) != 1:
        return None
    seconds, rest = divmod(next(iter(apart)), 10**9)
    return seconds if seconds and not rest and seconds % 900 == 0 else None
