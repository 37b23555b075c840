"""One way: what of the left side is on the right, and what else is there.

By names and sizes, or by content besides. A file that is missing, and whose name and size (by content: whose content)
stand elsewhere on the right alone, was moved. XMP sidecars (ISO 16684-1) that differ are working files: programs for
editing write them all day.
"""

import heapq
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import groupby
from operator import itemgetter
from typing import NamedTuple

from ..files.systems import is_systems
from .spool import Spool


class Kind(StrEnum):
    """How a file of one side stands to the other."""

    IDENTICAL = "identical"
    MISSING = "missing"
    """on the left alone"""
    DIFFERENT = "different"
    UNREADABLE = "unreadable"
    """one side could not be read: nothing is known"""
    MOVED = "moved"
    """the same, elsewhere on the right"""
    WORKING = "working file"
    """a sidecar that people edit: on the right it is another, or there is one more"""
    EXTRA = "extra"
    """on the right alone"""


class Difference(NamedTuple):
    """One row. left, right: bytes on each side, -1 where it is not there

    elsewhere: where it stands on the right, of one that was moved. reason: why it could not be read, or empty
    """

    kind: Kind
    path: str
    left: int
    right: int
    elsewhere: str = ""
    reason: str = ""


@dataclass
class Tally:
    """How many files, and how many bytes of them on the left, or where there are none on the right."""

    files: int = 0
    bytes: int = 0

    def add(self, size: int) -> None:
        """One more."""
        self.files += 1
        self.bytes += size


@dataclass
class Comparison:
    """left, right: of each side in all. kinds: of each kind. rows: every row but those that are identical, in order"""

    rows: Spool[Difference]
    left: Tally = field(default_factory=Tally)
    right: Tally = field(default_factory=Tally)
    kinds: dict[Kind, Tally] = field(default_factory=lambda: {kind: Tally() for kind in Kind})

    @property
    def identical(self) -> bool:
        """Both sides hold the same, and nothing else."""
        same = self.kinds[Kind.IDENTICAL].files
        return self.left.files == self.right.files == same and self.left.bytes == self.right.bytes

    def count(self, row: Difference) -> None:
        """Of whatever is compared, once."""
        self.kinds[row.kind].add(row.left if row.left >= 0 else row.right)
        if row.kind is not Kind.IDENTICAL:
            self.rows.add(row)


class Reader(NamedTuple):
    """How content is compared.

    same: whether a file is the same on both sides; or a sentence that says why that cannot be told
    sum_left, sum_right: a checksum of a file of one side, or None where it cannot be read
    """

    same: Callable[[str], bool | str]
    sum_left: Callable[[str], str | None]
    sum_right: Callable[[str], str | None]


Files = Iterable[tuple[str, int]]
"""Paths and sizes, in any order."""
_ON_ONE = tuple[str, int]
_HOMELESS = tuple[int, str, int, str]
"""(size, name where that tells, side, path)"""


def may_be_compared(path: str) -> bool:
    """Whether it is anybody's work: not ours, and not what computers leave on a medium.

    >>> may_be_compared("DCIM/a.jpg"), may_be_compared(".raft-store"), may_be_compared("DCIM/._a.jpg")
    (True, False, False)
    """
    top, name = path.partition("/")[0], path.rpartition("/")[2]
    return not (
        top.startswith(".raft-") or is_systems(top) or name.startswith("._") or name in (".DS_Store", "Thumbs.db")
    )


def compare(
    left: Files, right: Files, reader: Reader | None = None, rows: Spool[Difference] | None = None
) -> Comparison:
    """Compare the right side with the left. reader: compare contents besides; None: by names and sizes.

    rows: where the rows go; close it when they were read
    """
    found = Comparison(Spool() if rows is None else rows)
    with Spool[_ON_ONE]() as lefts, Spool[_ON_ONE]() as rights, Spool[_HOMELESS]() as homeless:
        lefts.extend(_counted(left, found.left))
        rights.extend(_counted(right, found.right))
        for path, on_left, on_right in _side_by_side(lefts, rights):
            if on_left is None or on_right is None:
                size = on_left if on_left is not None else on_right or 0
                homeless.add((size, "" if reader else path.rpartition("/")[2], int(on_left is None), path))
            else:
                found.count(_both(path, on_left, on_right, reader))
        for row in _homes(homeless, reader):
            found.count(row)
    return found


def _counted(files: Files, tally: Tally) -> Iterator[_ON_ONE]:
    for path, size in files:
        if may_be_compared(path):
            tally.add(size)
            yield path, size


def _side_by_side(left: Iterable[_ON_ONE], right: Iterable[_ON_ONE]) -> Iterator[tuple[str, int | None, int | None]]:
    """Each path once, with its size on either side."""
    of_left, of_right = ((path, 0, size) for path, size in left), ((path, 1, size) for path, size in right)
    for path, sides in groupby(heapq.merge(of_left, of_right), key=itemgetter(0)):
        found = {side: size for _, side, size in sides}
        yield path, found.get(0), found.get(1)


def _both(path: str, left: int, right: int, reader: Reader | None) -> Difference:
    if left != right:
        return Difference(_differs(path), path, left, right)
    same = reader.same(path) if reader else True
    if isinstance(same, str):
        return Difference(Kind.UNREADABLE, path, left, right, reason=same)
    return Difference(Kind.IDENTICAL if same else _differs(path), path, left, right)


def _differs(path: str) -> Kind:
    return Kind.WORKING if _is_edited(path) else Kind.DIFFERENT


def _is_edited(path: str) -> bool:
    return path[-4:].lower() == ".xmp"


def _homes(homeless: Iterable[_HOMELESS], reader: Reader | None) -> Iterator[Difference]:
    """Rows of what stands on one side alone."""
    for (size, _), alike in groupby(homeless, key=itemgetter(0, 1)):
        sides: tuple[list[str], list[str]] = [], []
        for _, _, side, path in alike:
            sides[side].append(path)
        yield from _of_one_size(size, *sides, reader)


def _of_one_size(size: int, left: list[str], right: list[str], reader: Reader | None) -> Iterator[Difference]:
    """Only where one of each side is alike is it known which went where. Content is read only where it may matter."""
    moved: dict[str, str] = {}
    if size and left and right:
        moved = _by_content(left, right, reader) if reader else _one_to_one({"": left}, {"": right})
    for path in left:
        elsewhere = moved.get(path)
        if elsewhere is None:
            yield Difference(Kind.MISSING, path, size, -1)
        else:
            yield Difference(Kind.MOVED, path, size, size, elsewhere)
    taken = set(moved.values())
    for path in right:
        if path not in taken:
            yield Difference(Kind.WORKING if _is_edited(path) else Kind.EXTRA, path, -1, size)


def _by_content(left: list[str], right: list[str], reader: Reader) -> dict[str, str]:
    return _one_to_one(_by_sum(left, reader.sum_left), _by_sum(right, reader.sum_right))


def _by_sum(paths: list[str], sum_of: Callable[[str], str | None]) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for path in paths:
        checksum = sum_of(path)
        if checksum:
            found.setdefault(checksum, []).append(path)
    return found


def _one_to_one(left: dict[str, list[str]], right: dict[str, list[str]]) -> dict[str, str]:
    """Pairs of which there is one alone on each side."""
    return {paths[0]: right[key][0] for key, paths in left.items() if len(paths) == len(right.get(key, ())) == 1}
