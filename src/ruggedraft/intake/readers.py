"""Where readers come from: real ones or stand-ins, each a source of slots."""

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.sources import RemovableSource

from .models import Insertion


@dataclass(frozen=True)
class CardSeen:
    """What a slot tells of its card without reading its files.

    serial, volume: the file system's. capacity: bytes. largest_file: bytes a file on it can have, None without a limit.
    token: another one for every insertion. trouble: why nothing can be said of what is on it, and what to do
    """

    serial: str
    kind: str
    capacity: int
    volume: str = ""
    largest_file: int | None = None
    token: str = ""
    trouble: str = ""


@dataclass(frozen=True)
class Slot:
    """A reader's slot as it is now; `path` is where the files of its card appear.

    port: what the reader hangs on, the same whatever card is in it. name: for showing
    """

    name: str
    path: str
    card: CardSeen | None
    port: str


class ReaderSource(Protocol):
    def slots(self) -> Iterable[Slot]:
        """Every slot there is, empty ones too where the source knows of them."""

    def pulse(self) -> object:
        """Something cheap that differs from its last value when a card may have come or gone."""

    def open(self, slot_path: str, levels_up: int) -> RemovableSource:
        """The card in one of this source's slots, from so many folders above. Raises SourceVanished."""

    def release(self, slot_path: str) -> str:
        """Let go of the card, so that it may be pulled; empty when that is done, else why it could not be.

        Whatever was written to it is on it by then, and nothing can be read from it any more.
        """


def card_path(slot_path: str, levels_up: int) -> Path:
    """The card's root. The way leads through the slot, so that it breaks when the card is pulled."""
    return Path(slot_path + "/.." * levels_up)


def reader_sources() -> list[ReaderSource]:
    return [import_string(name)() for name in settings.READER_SOURCES]


def open_card(insertion: Insertion) -> RemovableSource:
    """The card of a stay, through whichever source its slot belongs to. Raises SourceVanished."""
    path = insertion.reader.path
    for source in reader_sources():
        if any(slot.path == path for slot in source.slots()):
            return source.open(path, insertion.levels_up)
    raise SourceVanished("the reader is gone")


def release_card(insertion: Insertion) -> str:
    """Have the source that a stay's slot belongs to let go of it; see `ReaderSource.release`."""
    for source in reader_sources():
        if any(slot.path == insertion.reader.path for slot in source.slots()):
            return source.release(insertion.reader.path)
    return "the reader is gone"
