"""Which rolls lie on a store, in folders of whatever name: by the names and sizes of their files.

This finds them and proves nothing: a copy is what its content says it is, when it was read.
"""

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from .files.systems import is_systems


class KnownFile(NamedTuple):
    """A file of a roll: the roll's number, its path in copies of it, and its size in bytes."""

    roll: int
    path: str
    size: int


class Recognised(NamedTuple):
    """A folder that holds files of a roll under their names, in their sizes. Empty: the store itself.

    files, bytes: how many of the roll's files are there
    """

    roll: int
    folder: str
    files: int
    bytes: int


class Stranger(NamedTuple):
    """A folder at the top of the store (or a file there), with what in it belongs to no roll."""

    folder: str
    files: int
    bytes: int


@dataclass(frozen=True)
class Recognition:
    """rolls: best first, and of each roll the folder that holds most of it first. strangers: largest first"""

    rolls: tuple[Recognised, ...]
    strangers: tuple[Stranger, ...]


def recognise(there: Mapping[str, int], known: Iterable[KnownFile], sizes: Mapping[int, int]) -> Recognition:
    """Find the folders that hold rolls.

    there: sizes by path, of everything on the store. known: the files of rolls that it may hold
    sizes: of each roll, how many files it has
    A folder passes for a roll's if it holds half of it, or three of its files: a chance likeness of one name is none.
    """
    theirs = {path: size for path, size in there.items() if not _is_ours_or_the_systems(path)}
    by_name: dict[tuple[str, int], list[KnownFile]] = {}
    for file in known:
        by_name.setdefault((_name(file.path), file.size), []).append(file)
    votes: Counter[tuple[int, str]] = Counter()
    weight: Counter[tuple[int, str]] = Counter()
    for path, size in theirs.items():
        for roll, folder in _could_be(path, by_name.get((_name(path), size), ())):
            votes[roll, folder] += 1
            weight[roll, folder] += size
    found = [
        Recognised(roll, folder, count, weight[roll, folder])
        for (roll, folder), count in votes.items()
        if 2 * count >= sizes[roll] or count >= _ENOUGH
    ]
    found.sort(key=lambda one: (-one.files, one.folder, one.roll))
    explained = {(one.roll, one.folder) for one in found}
    left = {
        path: size
        for path, size in theirs.items()
        if not any(one in explained for one in _could_be(path, by_name.get((_name(path), size), ())))
    }
    return Recognition(tuple(found), _strangers(left))


_ENOUGH = 3


def _name(path: str) -> str:
    return path.rpartition("/")[2]


def _could_be(path: str, alike: Iterable[KnownFile]) -> Iterator[tuple[int, str]]:
    """Of which rolls a file could be, and in which folder the roll would lie then."""
    for file in alike:
        if path == file.path:
            yield file.roll, ""
        elif path.endswith(f"/{file.path}"):
            yield file.roll, path[: -len(file.path) - 1]


def _is_ours_or_the_systems(path: str) -> bool:
    top = path.partition("/")[0]
    return top.startswith(".raft-") or is_systems(top)


def _strangers(left: Mapping[str, int]) -> tuple[Stranger, ...]:
    files: Counter[str] = Counter()
    sizes: Counter[str] = Counter()
    for path, size in left.items():
        top = path.partition("/")[0]
        files[top] += 1
        sizes[top] += size
    found = (Stranger(top, count, sizes[top]) for top, count in files.items())
    return tuple(sorted(found, key=lambda one: (-one.bytes, one.folder)))
