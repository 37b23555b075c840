"""Leaving a roll's checksum list beside its copy, without touching anything that is not one of our own lists.

A card may hold a file of any name, and a plan may call a folder anything. So a name is used for a list only if nothing
is there, or if what is there is known to be a list we left for this very copy.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass

from ..errors import Conflict, ListError, StoreError
from ..hashing import Algorithm
from ..stores.port import Data, Store
from ..stores.writing import write_one
from .checksum_list import format_list, parse_list

UNFINISHED = ".incomplete"
_MOST_BYTES = 1 << 30
_MOST_NAMES = 100

Ours = Callable[[str, bytes], bool]
"""Whether the content found under a path is a file that we left for this copy."""


@dataclass(frozen=True)
class Kept:
    """A file left beside a copy: its path on the store, what it holds, and which earlier one it replaces."""

    path: str
    content: bytes
    withdrawn: str = ""


def keep_list(
    store: Store,
    folder: str,
    checksums: Mapping[str, str],
    algorithm: Algorithm,
    *,
    modified_ns: int,
    complete: bool,
    name: str | None = None,
    ours: Ours | None = None,
) -> Kept | None:
    """Write `FOLDER.HASH` beside the folder, or `FOLDER.HASH.incomplete` while the copy is not whole.

    checksums: by path inside the folder. The list's own paths start with the folder's last part, so that it can be
    checked from the folder that holds both. Entries of an earlier list of ours stay (their files are still there).
    name: where the folder holds other rolls too, the list is `FOLDER.NAME.HASH`
    ours: tells our own lists from other files. If it is given and a name is taken by something else, the next of
        `FOLDER.2.HASH`, `FOLDER.3.HASH` … is used; without it a list that names only files of this folder passes for
        ours, and anything else is a Conflict.
    Returns None where there is nothing to list. Raises Conflict if an earlier list says something else of the same
    file, or another StoreError. The store must be open.
    """
    parent, _, last = folder.rpartition("/")
    if not checksums:
        return None
    stem = f"{folder}.{name}" if name else folder
    names = (f"{stem}{number}.{algorithm.name}" for number in _numbers(ours))
    final, before = next(_usable(store, names, ours, f"{last}/"))
    sums: Mapping[str, str] = _Beneath(f"{last}/", checksums)
    _refuse_another_checksum(before.entries, sums, f"the list {final} on '{store.name}'")
    target, unfinished = (final, final + UNFINISHED) if complete else (final + UNFINISHED, "")
    content = format_list({**before.entries, **sums} if before.entries else sums)
    kept = Kept(target, content, unfinished if before.unfinished else "")
    if before.contents.get(target) != kept.content:
        _write_and_read_back(store, target, kept.content, modified_ns, replace=target in before.contents)
    if kept.withdrawn:
        store.withdraw(kept.withdrawn)
    if parent:
        store.settle([(parent, None)])
    return kept


def _refuse_another_checksum(before: Mapping[str, str], sums: Mapping[str, str], which: str) -> None:
    """Raises Conflict."""
    other = next((path for path, checksum in before.items() if sums.get(path, checksum) != checksum), None)
    if other is not None:
        raise Conflict(f"{which} has another checksum for {other}; it was left as it is")


def keep_file(store: Store, stem: str, ending: str, content: bytes, *, modified_ns: int, ours: Ours) -> Kept:
    """Leave a file of ours under `STEM.ENDING`, or under a numbered name where something else is there."""
    for number in _numbers(ours):
        path = f"{stem}{number}.{ending}"
        there = content_at(store, path)
        if there is not None and not ours(path, there):
            continue
        if there != content:
            _write_and_read_back(store, path, content, modified_ns, replace=there is not None)
        return Kept(path, content)
    raise Conflict(f"no name is free for {stem}.{ending} on '{store.name}'")


def keep_exactly(store: Store, path: str, content: bytes, *, modified_ns: int, ours: Ours) -> Kept:
    """Leave a file of ours under this very name. Raises Conflict where something else is there, and StoreError."""
    there = content_at(store, path)
    if there is not None and not ours(path, there):
        raise Conflict(f"{path} on '{store.name}' is not known to be ours; it was left as it is")
    if there != content:
        _write_and_read_back(store, path, content, modified_ns, replace=there is not None)
    store.settle([(path.rpartition("/")[0], None)])
    return Kept(path, content)


def _numbers(ours: Ours | None) -> list[str]:
    return ["", *(f".{number}" for number in range(2, _MOST_NAMES))] if ours else [""]


@dataclass(frozen=True)
class _Before:
    """Our own lists that are there already, by path, and what they say."""

    contents: dict[str, bytes]
    entries: dict[str, str]
    unfinished: bool


def _usable(store: Store, names: Iterable[str], ours: Ours | None, inside: str) -> Iterator[tuple[str, _Before]]:
    """Names whose two forms are free or hold lists of ours, each with what is there. Raises Conflict at the end."""
    taken = ""
    for final in names:
        contents: dict[str, bytes] = {}
        for path in (final, final + UNFINISHED):
            there = content_at(store, path)
            if there is None:
                continue
            if not (ours(path, there) if ours else _lists_only(there, inside)):
                taken = path
                break
            contents[path] = there
        else:
            yield final, _before(contents, final, store.name)
    raise Conflict(f"{taken} on '{store.name}' is not a list of this copy; it was left as it is")


def _before(contents: dict[str, bytes], final: str, store: str) -> _Before:
    entries: dict[str, str] = {}
    for path in (final + UNFINISHED, final):
        if path in contents:
            try:
                entries |= {listed.path: listed.checksum for listed in parse_list(contents[path])}
            except ListError as error:
                raise Conflict(f"{path} on '{store}' is not a list we can read; it was left as it is") from error
    return _Before(contents, entries, final + UNFINISHED in contents)


def _lists_only(content: bytes, inside: str) -> bool:
    """Whether this is a checksum list, and of nothing but files inside a folder."""
    try:
        listed = parse_list(content)
    except ListError:
        return False
    return bool(listed) and all(one.path.startswith(inside) for one in listed)


def content_at(store: Store, path: str) -> bytes | None:
    """What stands under a name, None for nothing; empty bytes, which no list of ours is, for what is no file."""
    found = store.found(path)
    if found is None:
        return None
    if not found.is_file or found.size > _MOST_BYTES:
        return b""
    return store.read_whole(path, _MOST_BYTES) or b""


def _write_and_read_back(store: Store, target: str, content: bytes, modified_ns: int, *, replace: bool) -> None:
    write_one(store, target, content, modified_ns, replace=replace)
    held = _SameAs(content)
    store.read_back(target, held.take)
    if not held.whole:
        raise StoreError(f"'{store.name}' gave back other bytes than were written to its list {target}")


class _Beneath(Mapping[str, str]):
    """Checksums by path inside a folder, by path from where the folder is."""

    def __init__(self, above: str, checksums: Mapping[str, str]) -> None:
        self._above, self._checksums = above, checksums

    def __getitem__(self, path: str) -> str:
        if not path.startswith(self._above):
            raise KeyError(path)
        return self._checksums[path.removeprefix(self._above)]

    def __iter__(self) -> Iterator[str]:
        return (self._above + path for path in self._checksums)

    def __len__(self) -> int:
        return len(self._checksums)


class _SameAs:
    """Compares what comes in pieces with what it must be, and keeps nothing of it."""

    def __init__(self, content: bytes) -> None:
        self._content, self._at, self._same = memoryview(content), 0, True

    def take(self, data: Data) -> None:
        """The next piece."""
        end = self._at + len(data)
        self._same = self._same and self._content[self._at : end] == data
        self._at = end

    @property
    def whole(self) -> bool:
        """Whether all came, and nothing else."""
        return self._same and self._at == len(self._content)
