"""Where readers come from: real ones or stand-ins, each a source of slots."""

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ruggedraft.core.cards import CardSource, FolderSource
from ruggedraft.core.errors import SourceVanished


@dataclass(frozen=True)
class CardSeen:
    """What a slot tells of its card without reading its files. `capacity` in bytes."""

    serial: str
    kind: str
    capacity: int


@dataclass(frozen=True)
class Slot:
    """A reader's slot as it is now; `path` is where the files of its card appear."""

    name: str
    path: str
    card: CardSeen | None


class ReaderSource(Protocol):
    def slots(self) -> Iterable[Slot]:
        """Every slot, empty ones too."""

    def watched(self) -> Iterable[str]:
        """Folders in which something changes when a card goes in or out."""

    def open(self, slot_path: str) -> CardSource:
        """The card in one of this source's slots. Raises SourceVanished."""


class NoReaders:
    """The source of a station without readers of its own."""

    def slots(self) -> Iterable[Slot]:
        return ()

    def watched(self) -> Iterable[str]:
        return ()

    def open(self, slot_path: str) -> CardSource:
        return FolderSource(Path(slot_path))


def open_card(slot_path: str) -> CardSource:
    """The card in a slot, through whichever source the slot belongs to. Raises SourceVanished."""
    for source in reader_sources():
        if any(slot.path == slot_path for slot in source.slots()):
            return source.open(slot_path)
    raise SourceVanished("the reader is gone")


def reader_sources() -> list[ReaderSource]:
    return [import_string(name)() for name in settings.READER_SOURCES]
