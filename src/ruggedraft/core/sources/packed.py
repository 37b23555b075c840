"""Entries of large cards: some sixty bytes each, where objects of Python take four hundred."""

from array import array
from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise
from typing import overload

from .entry import Entry, EntryKind

_KINDS = tuple(EntryKind)
_CODE = {kind: code for code, kind in enumerate(_KINDS)}
_LATEST = 2**63 - 1
"""Nanoseconds that fit into a column: until the year 2262. Some file systems know later ones."""
_UNKNOWN = 0xFFFF
"""A mode that is not known."""


class _Table:
    """One column for each part of an entry; entries stand in the order in which they were added.

    names: one after the other, up to 4 GiB of them. ends: where each ends in them
    """

    __slots__ = ("ends", "kinds", "modes", "names", "odd", "sizes", "times")

    def __init__(self) -> None:
        self.names, self.ends = bytearray(), array("I", [0])
        self.kinds, self.sizes, self.times, self.modes = bytearray(), array("Q"), array("q"), array("H")
        self.odd: dict[int, Entry] = {}
        """Those that do not fit into the columns, whole, by their rows."""

    def add(self, entry: Entry) -> None:
        path, kind, size, modified_ns, detail, mode = entry
        if detail or not -_LATEST <= modified_ns <= _LATEST or (mode or 0) >= _UNKNOWN:
            self.odd[len(self.kinds)], modified_ns = entry, 0
        self.names += path.encode("utf-8", "surrogatepass")
        self.ends.append(len(self.names))
        self.kinds.append(_CODE[kind])
        self.sizes.append(size)
        self.times.append(modified_ns)
        self.modes.append(_UNKNOWN if mode is None else min(mode, _UNKNOWN))

    def path(self, row: int) -> str:
        return str(self.names[self.ends[row] : self.ends[row + 1]], "utf-8", "surrogatepass")

    def entry(self, row: int) -> Entry:
        if row in self.odd:
            return self.odd[row]
        mode = self.modes[row]
        return Entry(
            self.path(row), _KINDS[self.kinds[row]], self.sizes[row], self.times[row],
            mode=None if mode == _UNKNOWN else mode,
        )  # fmt: skip


class Entries(Sequence[Entry]):
    """Entries in path order. What is taken out of them is an `Entry` like any other, made when it is asked for.

    >>> there = Entries.of([Entry("b", EntryKind.FILE, 3), Entry("a", EntryKind.FOLDER)])
    >>> [entry.path for entry in there], Places(there).of("b"), Places(there).of("c")
    (['a', 'b'], 1, -1)
    """

    __slots__ = ("_rows", "_table")

    def __init__(self, table: _Table, rows: Sequence[int]) -> None:
        """For `of`, `only` and slices. rows: of the table, in path order"""
        self._table, self._rows = table, rows

    @classmethod
    def of(cls, entries: Iterable[Entry]) -> "Entries":
        """From entries in any order."""
        if isinstance(entries, cls):
            return entries
        table = _Table()
        for entry in entries:
            table.add(entry)
        rows: Sequence[int] = range(len(table.kinds))
        if not all(one <= other for one, other in pairwise(map(table.path, rows))):
            rows = array("I", sorted(rows, key=table.path))
        return cls(table, rows)

    def __len__(self) -> int:
        return len(self._rows)

    def __iter__(self) -> Iterator[Entry]:
        return map(self._table.entry, self._rows)

    @overload
    def __getitem__(self, place: int) -> Entry: ...
    @overload
    def __getitem__(self, place: slice) -> "Entries": ...
    def __getitem__(self, place: int | slice) -> "Entry | Entries":
        if isinstance(place, slice):
            return Entries(self._table, self._rows[place])
        return self._table.entry(self._rows[place])

    def path(self, place: int) -> str:
        """Of the entry at a place."""
        row, table = self._rows[place], self._table
        return str(table.names[table.ends[row] : table.ends[row + 1]], "utf-8", "surrogatepass")

    def size(self, place: int) -> int:
        """Bytes of the entry at a place."""
        return self._table.sizes[self._rows[place]]

    def modified_ns(self, place: int) -> int:
        """Of the entry at a place: nanoseconds since 1970-01-01 UTC."""
        row, table = self._rows[place], self._table
        return table.odd[row].modified_ns if row in table.odd else table.times[row]

    def only(self, *kinds: EntryKind) -> "Entries":
        """Those of these kinds."""
        codes, have = {_CODE[kind] for kind in kinds}, self._table.kinds
        rows = array("I", (row for row in self._rows if have[row] in codes))
        return Entries(self._table, self._rows if len(rows) == len(self._rows) else rows)


class Places:
    """Finds entries by their paths: at once where they are asked for one after the other, else in some twenty steps."""

    __slots__ = ("_entries", "_next")

    def __init__(self, entries: Entries) -> None:
        self._entries, self._next = entries, 0

    def of(self, path: str) -> int:
        """Where the entry of this path stands; -1 where there is none."""
        place = self._next
        if place >= len(self._entries) or self._entries.path(place) != path:
            place = self._searched(path)
        if place >= 0:
            self._next = place + 1
        return place

    def _searched(self, path: str) -> int:
        low, high = 0, len(self._entries)
        while low < high:
            middle = (low + high) // 2
            if self._entries.path(middle) < path:
                low = middle + 1
            else:
                high = middle
        return low if low < len(self._entries) and self._entries.path(low) == path else -1
