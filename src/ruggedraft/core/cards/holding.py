"""How much of a card do we already hold? Each file against everything ever taken, by path, size and time."""

from collections import Counter
from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import NamedTuple

from .listing import Entry


class Holding(StrEnum):
    HELD = "held"
    """the same path, size and time, or the same content, was read off a card of this camera"""
    NEW = "new"
    CHANGED = "changed"
    """its roll has a file of this name with another size, time or content"""
    LEFT = "left"
    """somebody decided, by name, that it need not be taken"""
    ALIKE = "alike"
    """another camera's roll has a file of this path, size and time: perhaps the same one, not held until compared"""


class Known(NamedTuple):
    """A file of the ledger that a file on the card may be. roll: its tag."""

    path: str
    size: int
    modified_ns: int
    roll: str
    own_camera: bool
    same_roll: bool
    checksum: str = ""
    algorithm: str = ""


class Held(NamedTuple):
    """What became of one file on the card. `roll`: the tag of the roll it was found in, if any."""

    holding: Holding
    roll: str = ""


def hold(
    entries: Iterable[Entry],
    known: Iterable[Known],
    left: frozenset[tuple[str, int, int]] = frozenset(),
    read: Mapping[str, tuple[str, str]] | None = None,
) -> dict[str, Held]:
    """What is held of these files.

    known: the ledger's files that share path, size and time with one of them; the files of the roll that is on the
        card; and those that share a checksum with one that was read
    left: path, size and time of files that were left behind or waived
    read: algorithm and checksum of files that were read for comparison. What reading says outweighs size and time.

    Size and time alone are believed only within a camera: two recorders locked to one clock write files of one name,
    size and time that hold different sounds.
    """
    by_path: dict[str, list[Known]] = {}
    by_content: dict[tuple[str, str, int], Known] = {}
    for one in known:
        by_path.setdefault(one.path, []).append(one)
        by_content.setdefault((one.algorithm, one.checksum, one.size), one)
    found, read, new = {}, read or {}, Held(Holding.NEW)
    for entry in entries:
        was_read = read.get(entry.path)
        same = by_content.get((*was_read, entry.size)) if was_read else None
        if same:
            found[entry.path] = Held(Holding.HELD, same.roll)
        elif entry.path not in by_path and not left:
            found[entry.path] = new
        else:
            found[entry.path] = _judge(entry, by_path.get(entry.path, []), left, was_read)
    return found


def _judge(
    entry: Entry, known: list[Known], left: frozenset[tuple[str, int, int]], was_read: tuple[str, str] | None
) -> Held:
    facts = (entry.size, entry.modified_ns)
    exact = [one for one in known if (one.size, one.modified_ns) == facts and not _differs(one, was_read)]
    own = next((one for one in exact if one.own_camera or one.same_roll), None)
    if own:
        return Held(Holding.HELD, own.roll)
    changed = next((one for one in known if one.same_roll), None)
    if changed:
        return Held(Holding.CHANGED, changed.roll)
    if (entry.path, *facts) in left:
        return Held(Holding.LEFT)
    if exact:
        return Held(Holding.ALIKE, exact[0].roll)
    return Held(Holding.NEW)


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
