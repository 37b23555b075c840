"""Reading a recording from copies at hand, for looking at it: whatever is read here proves nothing."""

from collections.abc import Callable, Iterable, Sequence
from contextlib import closing
from typing import TypeVar

from ruggedraft.core.cards.media import MediaFacts, kind_of
from ruggedraft.core.errors import SourceError, SourceVanished, StoreError
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.pictures import GaveWay
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.sources.port import CardSource, OpenFile
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.stores.opening import open_usable

Result = TypeVar("Result")
Copies = Sequence[tuple[Copy, CardSource]]
_PIECE = 64 << 20
"""Bytes, between which it is asked whether something else comes first."""


def opened(copies: Iterable[Copy]) -> Copies:
    """Those that can be reached now."""
    found = []
    for copy in copies:
        try:
            found.append((copy, open_usable(copy.store).as_source(copy.folder)))
        except (StoreError, SourceError):
            continue
    return found


class NoneHoldsIt(Exception):
    """Of all copies none has this file as it was taken."""

    def __init__(self) -> None:
        super().__init__("no copy at hand holds it as it was taken")


def of_a_copy(file: RollFile, copies: Copies, work: Callable[[OpenFile], Result]) -> tuple[Copy, Result] | None:
    """What comes of the first copy that holds it as it was taken. None where one is away, which says nothing of it.

    Raises NoneHoldsIt, and what `work` raises.
    """
    away = not copies
    for copy, source in copies:
        try:
            source.require()
            with closing(source.open(from_ledger(file.kept_as or file.path))) as file_opened:
                if file_opened.size_and_time()[0] != file.size:
                    continue
                found = work(file_opened)
            source.require()  # what a drive that went has cut short says nothing
        except SourceVanished:
            away = True
        except SourceError:
            continue
        else:
            return copy, found
    if away:
        return None
    raise NoneHoldsIt


def checksum_of(opened: OpenFile, algorithm: str, has_to_wait: Callable[[], bool]) -> str:
    """Of an open file, in hexadecimal. has_to_wait: whether something else comes first; then this raises GaveWay"""
    hasher = algorithm_named(algorithm).start()
    offset = 0
    while piece := opened.read_at(offset, _PIECE):
        if has_to_wait():
            raise GaveWay
        hasher.update(piece)
        offset += len(piece)
    return hasher.hexdigest()


def facts_of(file: RollFile) -> MediaFacts:
    """What its header says; by its name alone where that was not read."""
    known = getattr(file, "known_media", None)
    return MediaFacts.from_data(known.media.facts) if known else MediaFacts(kind_of(file.path))
