"""Rows in order, more of them than memory holds: sorted in pieces on disk, and merged."""

import heapq
import pickle
import tempfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import IO, Generic, TypeVar

Row = TypeVar("Row", bound=tuple[object, ...])

_PIECE = 50_000
"""Rows that are held and sorted at a time."""
_BLOCK = 500
"""Rows that are read from a piece at a time."""


class Spool(Generic[Row]):
    """Takes rows in any order and gives them in that of their values. A context manager: its files end with it.

    The files are made by this process for itself and have no names that another could open.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder, self._held, self._pieces = folder, [], []  # type: Path | None, list[Row], list[IO[bytes]]
        self.count = 0

    def __enter__(self) -> "Spool[Row]":
        return self

    def __exit__(self, *_: object) -> None:
        for piece in self._pieces:
            piece.close()
        self._pieces, self._held = [], []

    def add(self, row: Row) -> None:
        """One more."""
        self._held.append(row)
        self.count += 1
        if len(self._held) >= _PIECE:
            self._put_down()

    def extend(self, rows: Iterable[Row]) -> "Spool[Row]":
        """More; returns itself."""
        for row in rows:
            self.add(row)
        return self

    def __iter__(self) -> Iterator[Row]:
        """In order; may be gone through again, but not twice at the same time."""
        if not self._pieces:
            self._held.sort()
            return iter(self._held)
        if self._held:
            self._put_down()
        return heapq.merge(*map(_rows, self._pieces))

    def _put_down(self) -> None:
        self._held.sort()
        piece = tempfile.TemporaryFile(dir=self._folder)  # noqa: SIM115  closed with the spool
        for start in range(0, len(self._held), _BLOCK):
            pickle.dump(self._held[start : start + _BLOCK], piece, pickle.HIGHEST_PROTOCOL)
        self._pieces.append(piece)
        self._held = []


def _rows(piece: IO[bytes]) -> Iterator[Row]:
    piece.seek(0)
    while True:
        try:
            yield from pickle.load(piece)  # noqa: S301  written above, into a file without a name
        except EOFError:
            return
