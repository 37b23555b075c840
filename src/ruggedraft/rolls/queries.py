"""What exists where, as rows for acts and screens."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.db import connection
from django.db.models import Max, Prefetch, Q, QuerySet

from ruggedraft.core.errors import NotThere
from ruggedraft.core.evidence import Result
from ruggedraft.core.redundancy import NamedFile, damaged, holds, read_back_since
from ruggedraft.core.redundancy import Reading as ReadingFact
from ruggedraft.footage.queries import preview_of
from ruggedraft.intake.models import Card, CardListing, EntryMedia
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after, is_lost

from .models import Copy, Delivery, FileMedia, Reading, ReadingResult, Roll, RollFile
from .readings import reading_facts, waived_files
from .summaries import places_of_all


def last_evidence() -> int:
    """The newest evidence in the ledger: what is read from now on is read after it."""
    return Reading.objects.aggregate(last=Max("pk"))["last"] or 0


def last_rolls(cards: Iterable[Card]) -> dict[int, Roll]:
    """The last roll of each card, by the card's id, in one query."""
    newest = Roll.objects.filter(card__in=cards).order_by("card_id", "-id").distinct("card_id")
    return {roll.card_id: roll for roll in newest}


def listing_serial(listing: CardListing | None) -> str:
    return listing.insertion.serial if listing else ""


def files_held(copy: Copy) -> list[RollFile]:
    """The files that a copy is known to hold."""
    return list(on_stores(copy.roll)[copy.store_id].held.values())


def need_not_be_there(copy: Copy) -> set[int]:
    """Ids of files that a copy is not known to hold, and that nobody misses there: taken off on purpose to make room,
    or waived and never brought.
    """
    waived = set(waived_files([copy.roll]))
    off = ReadingResult.objects.filter(reading__copy=copy, result=Result.TAKEN_OFF).values_list("file_id", flat=True)
    perhaps = waived | (set(off) if copy.thinned_at else set())
    return perhaps - {file.pk for file in files_held(copy)} if perhaps else perhaps


def _holds(file: RollFile, readings: list[ReadingFact], floor: int) -> bool:
    return holds(NamedFile(file.pk, file.take_id, file.size), readings, found_after=floor)


@dataclass(frozen=True)
class OnStore:
    """What of a roll a store is known to hold, and what is damaged there: the roll's files by path."""

    held: dict[str, RollFile]
    damaged: dict[str, RollFile]


def on_stores(roll: Roll) -> dict[int, OnStore]:
    """By the store's id, for every copy of a roll."""
    files = list(roll.files.exclude(checksum=""))
    found = {}
    for store, readings, floor in _readings_on_stores([roll]).get(roll.pk, ()):
        held = {file.path: file for file in files if _holds(file, readings, floor)}
        bad = {
            file.path: file
            for file in files
            if file.path not in held and damaged(NamedFile(file.pk, file.take_id, file.size), readings)
        }
        found[store.pk] = OnStore(held, bad)
    return found


def _readings_on_stores(rolls: Iterable[Roll]) -> dict[int, list[tuple[Store, list[ReadingFact], int]]]:
    """By roll, for each copy: its store, what was read of it, and since when that counts."""
    places = places_of_all()
    found: dict[int, list[tuple[Store, list[ReadingFact], int]]] = {}
    for copy in Copy.objects.filter(roll__in=list(rolls)).prefetch_related("readings__results"):
        store = places[copy.store_id]
        found.setdefault(copy.roll_id, []).append((store, reading_facts(copy.readings.all()), found_after(store)))
    return found


@dataclass(frozen=True)
class HeldOn:
    """A copy that is known to hold a file, and its store (from `stores()`), lost or not."""

    store: Store
    copy: Copy


def where_held(files: Iterable[RollFile]) -> dict[int, list[HeldOn]]:
    """By the file's id, for each of these files: the copies that are known to hold it, in the order of the stores."""
    rows = list(files)
    read = [file for file in rows if file.checksum]
    by_roll: dict[int, list[RollFile]] = {}
    for file in read:
        by_roll.setdefault(file.roll_id, []).append(file)
    places = places_of_all()
    found: dict[int, list[HeldOn]] = {file.pk: [] for file in rows}
    for copy in _with_readings(by_roll, read):
        store = places[copy.store_id]
        readings, floor = reading_facts(copy.readings.all()), found_after(store)
        for file in by_roll[copy.roll_id]:
            if _holds(file, readings, floor):
                found[file.pk].append(HeldOn(store, copy))
    return found


def _with_readings(rolls: Iterable[int], files: list[RollFile], among: QuerySet[Copy] | None = None) -> Iterable[Copy]:
    """Copies of these rolls (ids), with what was read of them; of single files only what is said of these."""
    said = Prefetch("results", ReadingResult.objects.filter(file__in=files))
    readings = Prefetch("readings", Reading.objects.prefetch_related(said))
    copies = (Copy.objects.all() if among is None else among).filter(roll__in=list(rolls)).prefetch_related(readings)
    return copies.order_by("store__position", "pk")


def read_back_on(copy: Copy, files: Iterable[RollFile], since: int) -> set[int]:
    """Ids of those of these files (of its roll) that a copy is known to hold, by having been read back after the
    evidence `since` was noted. copy: with a store from `stores()`
    """
    rows = list(files)
    (with_readings,) = _with_readings([copy.roll_id], rows, Copy.objects.filter(pk=copy.pk))
    readings, floor = reading_facts(with_readings.readings.all()), found_after(copy.store)
    named = ((file, NamedFile(file.pk, file.take_id, file.size)) for file in rows)
    return {file.pk for file, one in named if read_back_since(one, readings, since, found_after=floor)}


def held_anywhere(files: Iterable[RollFile]) -> set[int]:
    """Of these files, the ids of those that some copy on a store that is not lost is known to hold."""
    return {file for file, held in where_held(files).items() if any(not is_lost(one.store) for one in held)}


_LIKE = """
SELECT e.path, e.size FROM intake_listedentry e
JOIN rolls_rollfile f ON md5(f.path) = md5(e.path) AND f.path = e.path AND f.size = e.size
JOIN rolls_roll r ON r.id = f.roll_id
WHERE e.listing_id = %(listing)s AND e.kind = 'file' AND r.production_id = %(production)s
UNION
SELECT e.path, e.size FROM intake_listedentry e
JOIN rolls_leftbehind f ON f.path = e.path AND f.size = e.size JOIN rolls_roll r ON r.id = f.roll_id
WHERE e.listing_id = %(listing)s AND e.kind = 'file' AND r.card_id = %(card)s
UNION
SELECT e.path, e.size FROM intake_listedentry e
JOIN intake_listedentry o ON o.path = e.path AND o.size = e.size AND o.fingerprint <> '' AND o.listing_id =
  (SELECT max(id) FROM intake_cardlisting WHERE card_id = %(card)s AND id < %(listing)s)
WHERE e.listing_id = %(listing)s AND e.kind = 'file'
"""


def files_like(listing: CardListing, *, every_up_to: int = 200) -> list[tuple[str, int]]:
    """Path and size of files on a card that look like something the ledger knows; on a small card every file.

    every_up_to: how many files a small card has
    """
    if listing.files <= every_up_to or listing.card is None or listing.card.camera is None:
        return list(listing.entries.filter(kind="file").order_by("path").values_list("path", "size"))
    words = {"listing": listing.pk, "production": listing.card.camera.production_id, "card": listing.card_id}
    with connection.cursor() as cursor:
        cursor.execute(_LIKE, words)
        return sorted(cursor.fetchall())


def delivery_of(roll: Roll) -> Delivery | None:
    """The one that stands."""
    return roll.deliveries.filter(withdrawn_at=None).first()


def roll_of(production: Production, roll_id: int) -> Roll:
    """Raises NotThere."""
    found = Roll.objects.filter(production=production, pk=roll_id).first()
    if found is None:
        raise NotThere(f"There is no such roll in {production.name}.")
    return found


def roll_named(production: Production, tag: str) -> Roll:
    """Raises NotThere."""
    found = Roll.objects.filter(production=production, tag=tag).first()
    if found is None:
        raise NotThere(f"There is no roll {tag} in {production.name}.")
    return found


def rolls_named(production: Production, tags: Iterable[str]) -> list[Roll]:
    """Each with its camera and production, by tag. Raises NotThere where one is not, or none is asked for."""
    asked = set(tags)
    found = list(
        Roll.objects.filter(production=production, tag__in=asked).select_related("camera", "production").order_by("tag")
    )
    if missing := sorted(asked - {roll.tag for roll in found}):
        raise NotThere(f"There is no roll {missing[0]} in {production.name}.")
    if not found:
        raise NotThere("Say which rolls.")
    return found


def clips_of(roll: Roll) -> QuerySet[RollFile]:
    """Main files of its clips; where nothing of it was understood as a clip, every file whose header was read."""
    clips = roll.files.filter(is_clip=True)
    return clips if clips.exists() else roll.files.filter(known_media__isnull=False)


def clip_in(roll: Roll, path: str) -> RollFile:
    """A clip by the path of its main file, in the ledger's form; any file where nothing of it was understood as a clip.

    Raises NotThere.
    """
    clips = roll.files.filter(is_clip=True)
    found = (clips if clips.exists() else roll.files).filter(path=path).first()
    if found is None:
        raise NotThere(f"There is no clip {path} in {roll.tag}.")
    return found


def copy_of(production: Production, copy_id: int) -> Copy:
    """A copy of a roll of the production, with roll and store. Raises NotThere."""
    copies = Copy.objects.filter(roll__production=production).select_related("roll", "store")
    found = copies.filter(pk=copy_id).first()
    if found is None:
        raise NotThere(f"There is no such copy in {production.name}.")
    return found


def readings_of(roll: Roll, most: int) -> list[Reading]:
    """The last readings of a roll's copies, newest first, with their results and stores; also of what left since."""
    readings = Reading.objects.filter(copy__roll=roll).select_related("copy__store").prefetch_related("results")
    return list(readings.order_by("-pk")[:most])


def files_after(roll: Roll, after: str, most: int) -> tuple[list[RollFile], str | None]:
    """Files of a roll in the order of their paths; and what to ask for to get the next ones, None on the last page."""
    rows = list(roll.files.filter(path__gt=after).order_by("path")[: most + 1])
    return rows[:most], rows[most - 1].path if len(rows) > most else None


@dataclass(frozen=True)
class Fault:
    """What is wrong with one file of a copy, by the last evidence against it."""

    path: str
    result: Result
    reason: str


def faults_of(copy: Copy, most: int) -> list[Fault]:
    """Of each file that a copy is not known to hold, the last evidence against it."""
    held = [file.pk for file in files_held(copy)]
    bad = [result.value for result in Result if result.bad]
    rows = ReadingResult.objects.filter(reading__copy=copy, result__in=bad).exclude(file__in=held)
    last = rows.order_by("file_id", "-pk").distinct("file_id").values("pk")
    faults = ReadingResult.objects.filter(pk__in=last).exclude(result=Result.TAKEN_OFF).select_related("file")
    return [Fault(row.file.path, Result(row.result), row.reason) for row in faults.order_by("file_id")[:most]]


def preview_in(production: Production, media_id: int) -> bytes:
    """An embedded preview, as JPEG, of a file in a production's rolls, on its cards, or on one that nobody knows.

    Raises NotThere.
    """
    listed = Q(entry__listing__card__camera__production=production) | Q(entry__listing__card__camera=None)
    in_rolls = FileMedia.objects.filter(media=media_id, file__roll__production=production)
    if not in_rolls.exists() and not EntryMedia.objects.filter(listed, media=media_id).exists():
        raise NotThere("There is no picture of this file.")
    return preview_of(media_id)
