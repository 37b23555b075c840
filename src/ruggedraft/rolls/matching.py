"""What of a card is held already: its listing against everything ever taken in the production."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.db import connection

from ruggedraft.core.cards import Clip, Companion, Held, Known, Recording, companion_of, hold, shifted_by
from ruggedraft.core.redundancy import same_time
from ruggedraft.core.sources import Entry, from_ledger
from ruggedraft.core.stores import StoreKind
from ruggedraft.intake.contents import ListedCard
from ruggedraft.intake.folders import SEALED
from ruggedraft.intake.models import CardListing, ListedEntry
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of

from .models import Roll, RollFile

BY_TIME = """
SELECT e.path, f.size, f.modified_ns, r.tag, r.camera_id, r.id, f.checksum, r.algorithm, f.fingerprint, r.fs_serial
FROM intake_listedentry e
JOIN rolls_rollfile f ON f.modified_ns = e.modified_ns AND f.size = e.size AND f.path = e.path
JOIN rolls_roll r ON r.id = f.roll_id
WHERE e.listing_id = %s AND e.kind = 'file' AND r.production_id = %s AND f.checksum <> ''
"""
"""Files of the ledger with a listed file's path, size and time: one index look-up for each listed file."""

_BY_CONTENT = """
SELECT e.path, f.size, f.modified_ns, r.tag, r.camera_id, r.id, f.checksum, r.algorithm, f.fingerprint, r.fs_serial
FROM intake_listedentry e
JOIN rolls_rollfile f ON f.checksum = e.checksum AND f.size = e.size
JOIN rolls_roll r ON r.id = f.roll_id AND r.algorithm = e.algorithm
WHERE e.listing_id = %s AND e.checksum <> '' AND r.production_id = %s
"""

_OF_ROLL = """
SELECT f.path, f.size, f.modified_ns, r.tag, r.camera_id, r.id, f.checksum, r.algorithm, f.fingerprint, r.fs_serial
FROM rolls_rollfile f JOIN rolls_roll r ON r.id = f.roll_id
WHERE r.id = %s AND %s IS NOT NULL AND f.checksum <> ''
"""


@dataclass(frozen=True)
class CardHoldings:
    """held: of every file on the card, by path. shifted_s: by how much all times differ from the last roll's."""

    held: dict[str, Held]
    shifted_s: int | None
    shifted_roll: str


def holdings(listing: CardListing, listed: ListedCard, left: Iterable[tuple[str, int, int]] = ()) -> CardHoldings:
    """left: path (in the ledger's form), size and time of files that were left behind or waived

    Nothing is known of a card that is not named. The files of a package that lies where a production keeps its own are
    perhaps those of that production's rolls.
    """
    camera = listing.card.camera if listing.card else None
    files = listed.listing.files
    if camera is None:
        return CardHoldings(hold(files, _of_package(listing)), None, "")
    last = Roll.objects.filter(card=listing.card).order_by("-id").first()
    rows = _rows(BY_TIME, listing.pk, camera.production_id) + _rows(_BY_CONTENT, listing.pk, camera.production_id)
    rows += _rows(_OF_ROLL, last.pk, listing.pk) if last else []
    known, shifted = _on_this_card([_known(row, camera.pk, last, listing) for row in rows], files)
    left_here = frozenset((from_ledger(path), size, modified) for path, size, modified in left)
    held = hold(files, known, left_here, _read(listing), _fingerprints(listing))
    return CardHoldings(held, shifted, last.tag if last and shifted else "")


def _on_this_card(known: list[Known], files: Sequence[Entry]) -> tuple[list[Known], int | None]:
    """What is known, and by how much the times of the card's last roll are shifted on it.

    Where no file of that roll is on the card any more it was formatted: a name that both have is no changed file.
    """
    here = {(entry.path, entry.size): entry.modified_ns for entry in files}
    there = [(one, here.get((one.path, one.size))) for one in known if one.same_roll]
    exact = any(one.modified_ns == at for one, at in there)
    shifted = None if exact else shifted_by(files, known)
    if not any(at is not None and same_time(one.modified_ns, at) for one, at in there):
        known = [one._replace(same_roll=False) for one in known]
    return known, shifted


def _of_package(listing: CardListing) -> list[Known]:
    """What may be the same as files of a sealed package of ours, which nobody named; nothing of anything else."""
    if listing.insertion.kind != SEALED:
        return []
    at = Path(listing.insertion.reader.path)
    homes = [one for one in Store.objects.filter(kind=StoreKind.PACKAGES) if at.is_relative_to(one.path)]
    rows = [row for production in productions_of(*homes) for row in _rows(BY_TIME, listing.pk, production)]
    return [_known(row, 0, None, listing) for row in rows]


def _rows(query: str, one: int, two: int) -> list[tuple[Any, ...]]:
    with connection.cursor() as cursor:
        cursor.execute(query, [one, two])
        return list(cursor.fetchall())


def _known(row: tuple[Any, ...], camera: int, last: Roll | None, listing: CardListing) -> Known:
    path, size, modified, tag, of_camera, roll, checksum, algorithm, fingerprint, fs_serial = row
    own, same = of_camera == camera, last is not None and roll == last.pk
    serial = listing.insertion.serial
    formatted = bool(fs_serial and serial) and fs_serial != serial
    return Known(from_ledger(path), size, modified, tag, own, same, checksum, algorithm, fingerprint, not formatted)


def _read(listing: CardListing) -> dict[str, tuple[str, str]]:
    found = ListedEntry.objects.filter(listing=listing).exclude(checksum="")
    return {from_ledger(path): (algorithm, checksum) for path, algorithm, checksum in found.values_list(
        "path", "algorithm", "checksum")}  # fmt: skip


def _fingerprints(listing: CardListing) -> dict[str, str]:
    found = ListedEntry.objects.filter(listing=listing).exclude(fingerprint="")
    return {from_ledger(path): fingerprint for path, fingerprint in found.values_list("path", "fingerprint")}


def companion(listing: CardListing, clips: Iterable[Clip]) -> Companion | None:
    """The roll of the same camera of which this card is another rendering, if there is one."""
    camera = listing.card.camera if listing.card else None
    if camera is None or listing.first_ns is None or listing.last_ns is None:
        return None
    near = RollFile.objects.filter(
        roll__camera=camera, modified_ns__range=(listing.first_ns - 10**10, listing.last_ns + 10**10)
    ).exclude(roll__card=listing.card)
    rolls: dict[str, list[Recording]] = {}
    for path, modified, tag in near.values_list("path", "modified_ns", "roll__tag"):
        rolls.setdefault(tag, []).append(Recording(from_ledger(path), modified))
    return companion_of(clips, rolls) if rolls else None
