"""Opening small files of a card before their turn, so that the card need not wait between two of them."""

from collections.abc import Iterable, Iterator, Sequence

from ..errors import SourceError
from ..files.medium import LARGE
from ..sources.listing import Entry
from ..sources.port import CardSource, OpenFile

_AHEAD = 32

Opened = OpenFile | SourceError | None
"""What came of opening a file; None where nobody has tried yet."""


def opened_ahead(
    source: CardSource, entries: Sequence[Entry], *, past_caches: bool = False
) -> Iterator[tuple[Entry, Opened]]:
    """Each file in its order. While one window of them is being read, the next is open and asked for."""
    following = _window(source, entries[:_AHEAD], past_caches)
    waiting: list[tuple[Entry, Opened]] = []
    try:
        for start in range(_AHEAD, len(entries) + _AHEAD, _AHEAD):
            waiting = following
            following = _window(source, entries[start : start + _AHEAD], past_caches)
            waiting.reverse()
            while waiting:
                yield waiting.pop()
    finally:
        for _, file in (*waiting, *following):
            close_opened(file)


def _window(source: CardSource, entries: Iterable[Entry], past_caches: bool) -> list[tuple[Entry, Opened]]:
    window = list(entries)
    small = [entry.path for entry in window if entry.size < LARGE]
    opened = iter(source.open_ahead(small, past_caches=past_caches))
    return [(entry, next(opened) if entry.size < LARGE else None) for entry in window]


def close_opened(file: Opened) -> None:
    """Close a file that was opened ahead, if it was."""
    if file and not isinstance(file, SourceError):
        file.close()
