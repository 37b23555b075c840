"""A reader hub made of folders. A slot is a link to a card's folder: putting a card in makes it, pulling removes it.

standins/cards/SERIAL/        what is on the card
standins/cards/SERIAL.json    what a reader tells of it: kind, capacity, and the label on its sticker
standins/hub/slot-1 → ../cards/SERIAL
"""

import json
import os
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings

from ruggedraft.core.errors import ActRefused, SourceError, SourceUnreadable
from ruggedraft.core.sources import Entry, FolderSource, OpenFile, RemovableSource
from ruggedraft.core.sources.port import one_by_one
from ruggedraft.intake.readers import CardSeen, Slot, card_path

from .card_maker import CardSheet, format_card

SLOTS = ("slot-1", "slot-2", "slot-3", "slot-4")
BYTES_PER_S = int(os.environ.get("RAFT_STANDIN_READER_RATE", 12_000_000))
"""A slow card on purpose: people want to see what a run looks like."""


def home() -> Path:
    return Path(settings.VAR) / "standins"


def hub() -> Path:
    return home() / "hub"


@dataclass(frozen=True)
class StandinCard:
    sheet: CardSheet
    folder: Path
    slot: str | None

    @property
    def serial(self) -> str:
        return self.sheet.serial

    @property
    def label(self) -> str:
        return self.sheet.label

    @property
    def kind(self) -> str:
        return self.sheet.kind


def cards() -> list[StandinCard]:
    """Every stand-in card, in a slot or lying on the table."""
    inside = {target: slot for slot in SLOTS if (target := _serial_in(slot))}
    found = []
    for sheet in sorted((home() / "cards").glob("*.json")):
        serial = sheet.stem
        told = CardSheet(serial=serial, **json.loads(sheet.read_text()))
        found.append(StandinCard(told, sheet.with_suffix(""), inside.get(serial)))
    return found


def _serial_in(slot: str) -> str | None:
    try:
        target = (hub() / slot).readlink()
    except OSError:
        return None
    parts = target.parts
    return parts[parts.index("cards") + 1] if "cards" in parts else None


def insert(serial: str, slot: str) -> None:
    """Raises ActRefused where the slot is taken, the card is elsewhere, or either does not exist."""
    card = next((card for card in cards() if serial in (card.serial, card.label)), None)
    if card is None or slot not in SLOTS:
        raise ActRefused(f"There is no stand-in card {serial} or no slot {slot}.")
    if card.slot:
        raise ActRefused(f"Card {card.label} is in {card.slot} already.")
    hub().mkdir(parents=True, exist_ok=True)
    try:
        (hub() / slot).symlink_to(card.folder / card.sheet.pointed_at)
    except FileExistsError as error:
        raise ActRefused(f"There is a card in {slot} already.") from error


def remove(slot: str) -> None:
    if slot not in SLOTS:
        raise ActRefused(f"There is no slot {slot}.")
    (hub() / slot).unlink(missing_ok=True)


class FolderHub:
    """The hub as a station sees it."""

    def slots(self) -> Iterable[Slot]:
        hub().mkdir(parents=True, exist_ok=True)
        by_slot = {card.slot: card for card in cards() if card.slot}
        for name in SLOTS:
            card = by_slot.get(name)
            seen = _seen(card.sheet, _stay(name)) if card else None
            yield Slot(name.replace("-", " "), str(hub() / name), seen, port=name)

    def pulse(self) -> object:
        """Cards and drives that are plugged in or pulled are names that come and go in two folders: no mount tells of
        them."""
        return [_changed(folder) for folder in (hub(), home() / "drives")]

    def open(self, slot_path: str, levels_up: int) -> RemovableSource:
        card = next((one for one in cards() if one.slot == Path(slot_path).name), None)
        worn = card.sheet.worn if card else ()
        return PacedSource(FolderSource(card_path(slot_path, levels_up)), BYTES_PER_S, worn)

    def release(self, slot_path: str) -> str:
        remove(Path(slot_path).name)
        return ""


def _changed(folder: Path) -> int:
    """When a name last came, went or was made another one in it, in ns."""
    try:
        return folder.stat().st_mtime_ns
    except OSError:
        return 0


def _stay(slot: str) -> str:
    """Another text for every insertion, even of one card in quick succession."""
    try:
        facts = (hub() / slot).lstat()
    except OSError:
        return ""
    return f"{_serial_in(slot)} {facts.st_ino} {facts.st_ctime_ns}"


def _seen(sheet: CardSheet, token: str) -> CardSeen:
    return CardSeen(
        sheet.clone_of or sheet.serial, sheet.kind, sheet.capacity, sheet.volume, sheet.largest_file, token=token
    )


_gave_an_error: set[str] = set()
"""Files of worn cards that gave their error in this process already; they read the next time."""
_PACED_PIECE = 1 << 16  # bytes


class PacedSource:
    """A card that gives its bytes no faster than a rate."""

    def __init__(self, source: RemovableSource, bytes_per_s: int, worn: Sequence[str] = ()) -> None:
        self._source, self._rate, self._worn = source, bytes_per_s, tuple(worn)
        self._due = 0.0

    def walk(self) -> Iterator[Entry]:
        return self._source.walk()

    def require(self) -> None:
        self._source.require()

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> list[OpenFile | SourceError]:
        return one_by_one(self, paths)

    def open(self, path: str) -> OpenFile:
        worn = bool(self._worn) and path.endswith(self._worn)
        return _PacedFile(self._source.open(path), self, path if worn else "")

    def remove(self, path: str, is_same: Callable[[OpenFile], bool]) -> None:
        self._source.remove(path, lambda file: is_same(_PacedFile(file, self)))

    def wait_for(self, count: int) -> None:
        self._due = max(self._due, time.monotonic()) + count / self._rate
        time.sleep(max(0.0, self._due - time.monotonic() - 0.05))


class _PacedFile(OpenFile):
    def __init__(self, file: OpenFile, source: PacedSource, worn: str = "") -> None:
        self._file, self._source, self._worn = file, source, worn

    def read_into(self, view: memoryview) -> int:
        if self._worn and self._worn not in _gave_an_error:
            _gave_an_error.add(self._worn)
            raise SourceUnreadable("it could not be read off the card (Input/output error)")
        self._source.require()  # what was opened of a real card cannot be read either once it is pulled
        count = self._file.read_into(view[:_PACED_PIECE])
        self._source.wait_for(count)
        return count

    def read_now(self, view: memoryview) -> int:
        return 0

    def is_sparse(self) -> bool:
        return self._file.is_sparse()

    def past_caches(self) -> bool:
        return self._file.past_caches()

    def read_at(self, offset: int, size: int) -> bytes:
        data = self._file.read_at(offset, size)
        self._source.wait_for(len(data))
        return data

    def descriptor(self) -> int:
        return self._file.descriptor()

    def size_and_time(self) -> tuple[int, int]:
        return self._file.size_and_time()

    def close(self) -> None:
        self._file.close()


def format_in_camera(serial: str) -> None:
    """Empty a card, as its camera would. Raises ActRefused for a card that is in a slot: a camera cannot reach it."""
    card = next((card for card in cards() if card.serial == serial), None)
    if card is None or card.slot:
        raise ActRefused("Only a card on the table can be formatted in its camera: take it out first.")
    format_card(card.folder)
