"""Which rolls lie on a store, in folders of whatever name: by the names and sizes of their files.

This finds them and proves nothing: a copy is what its content says it is, when it was read.
"""

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
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


Place = tuple[int, str]
"""A roll's number, and a folder."""


def recognise(
    there: Mapping[str, int], known: Iterable[KnownFile], sizes: Mapping[int, int], copies: Iterable[Place] = ()
) -> Recognition:
    """Find the folders that hold rolls.

    there: sizes by path, of everything on the store. known: the files of rolls that it may hold
    sizes: of each roll, how many files it has. copies: where copies are known to be
    A folder passes for a roll's if it holds half of it, or three of its files: a chance likeness of one name is none.
    Of a known copy one file is enough.
    """
    theirs = {path: size for path, size in there.items() if not _is_ours_or_the_systems(path)}
    alike = _by_name(known)
    found = _counted(theirs, alike)
    settled = set(copies)
    rolls = [one for place, one in found.items() if place in settled or _is_enough(one.files, sizes[one.roll])]
    explained = {(one.roll, one.folder) for one in rolls}
    left = {path: size for path, size in theirs.items() if explained.isdisjoint(_could_be(path, size, alike))}
    return Recognition(tuple(sorted(rolls, key=lambda one: (-one.files, one.folder, one.roll))), _strangers(left))


_ENOUGH = 3
_Alike = Mapping[tuple[str, int], Sequence[KnownFile]]
"""By the last part of their names, and their sizes."""


def _is_enough(files: int, of_files: int) -> bool:
    return 2 * files >= of_files or files >= _ENOUGH


def _by_name(known: Iterable[KnownFile]) -> _Alike:
    found: dict[tuple[str, int], list[KnownFile]] = {}
    for file in known:
        found.setdefault((_name(file.path), file.size), []).append(file)
    return found


def _counted(theirs: Mapping[str, int], alike: _Alike) -> dict[Place, Recognised]:
    """How much of each roll each folder could hold."""
    files, sizes = Counter[Place](), Counter[Place]()
    for path, size in theirs.items():
        for place in _could_be(path, size, alike):
            files[place] += 1
            sizes[place] += size
    return {place: Recognised(*place, count, sizes[place]) for place, count in files.items()}


def _name(path: str) -> str:
    return path.rpartition("/")[2]


def _could_be(path: str, size: int, alike: _Alike) -> Iterator[Place]:
    """Of which rolls a file could be, and in which folder the roll would lie then."""
    for file in alike.get((_name(path), size), ()):
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
