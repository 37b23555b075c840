"""What exists where, as facts for verdicts and as rows for screens. Query counts do not grow with the rows."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from django.db import connection
from django.db.models import Count, Max, Prefetch, Q, Sum

from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.redundancy import (
    CopyFacts,
    FileFact,
    NamedFile,
    RollFacts,
    TakeTotal,
    WaiverFact,
    copy_facts,
    damaged,
    holds,
    in_no_copy,
    same_time,
)
from ruggedraft.core.redundancy import Reading as ReadingFact
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after, store_facts, stores

from .models import Copy, LeftBehind, Reading, ReadingResult, Roll, RollFile


@dataclass(frozen=True)
class CopyStanding:
    """A copy's row and the facts that follow from its readings and looks.

    readings: oldest first. found_after: see `core.redundancy.copy_facts`
    """

    copy: Copy
    facts: CopyFacts
    readings: tuple[Reading, ...]
    found_after: int = 0


@dataclass(frozen=True)
class RollStanding:
    """A roll's row, its facts, and its copies in the order of the stores.

    read_files, read_bytes: what of its content has been read off the card
    """

    roll: Roll
    facts: RollFacts
    copies: tuple[CopyStanding, ...]
    read_files: int
    read_bytes: int


Waived = Mapping[int, frozenset[int]]
"""For each roll, by id, the ids of its files that were waived."""


def roll_standings(
    rolls: Iterable[Roll], waived: Waived | None = None, *, with_content: bool = False
) -> list[RollStanding]:
    """Everything a verdict needs for these rolls, in a number of queries that does not depend on how many there are.

    waived: files that need not be in any copy
    with_content: also which files they are, for the coverage of a card
    """
    loaded = _Loaded(list(rolls), waived or {}, with_content=with_content)
    return [loaded.standing(roll) for roll in loaded.rolls]


class _Loaded:
    def __init__(self, rolls: list[Roll], waived: Waived, *, with_content: bool) -> None:
        self.rolls = rolls
        self.places = {store.pk: store for store in stores()}
        self.waived = waived
        self.copies = _grouped_copies(rolls)
        self.named = _named_files(rolls)
        self.totals = _totals(rolls)
        self.waived_files = self._files_waived()
        left = LeftBehind.objects.filter(roll__in=rolls).values("roll").annotate(count=Count("pk"))
        self.left = {row["roll"]: row["count"] for row in left}
        self.content = _content(rolls) if with_content else {}

    def _files_waived(self) -> dict[int, tuple[int, int, int, bool]]:
        """By file: roll, take, size, and whether it was read."""
        ids = [file for files in self.waived.values() for file in files]
        rows = RollFile.objects.filter(pk__in=ids).values_list("pk", "roll", "take", "size", "checksum")
        return {pk: (roll, take, size, bool(checksum)) for pk, roll, take, size, checksum in rows}

    def standing(self, roll: Roll) -> RollStanding:
        skipped = {pk: row for pk, row in self.waived_files.items() if row[0] == roll.pk}
        takes, files, size, read_files, read_bytes = self._takes(roll, skipped)
        named = self.named.get(roll.pk, {})
        needed = [file for key, file in named.items() if key not in skipped]
        plain = _without_named(takes, named, skipped)
        spoken = [(copy, [_reading_fact(one) for one in copy.readings.all()]) for copy in self.copies.get(roll.pk, ())]
        copies = tuple(self._copy(copy, of, plain, needed) for copy, of in spoken)
        alive = [(of, one.found_after) for one, (_, of) in zip(copies, spoken, strict=True) if not one.facts.store.lost]
        unread_waived = sum(not read for _, _, _, read in skipped.values())
        total = self.totals.get(roll.pk, {})
        unread = sum(row["count"] - row["read"] for row in total.values()) - unread_waived
        facts = RollFacts(
            roll.tag, frozenset(self.content.get(roll.pk, ())), tuple(one.facts for one in copies), files=files,
            bytes=size, unread=unread, bare=in_no_copy(plain, needed, alive), waived=len(skipped),
            left=self.left.get(roll.pk, 0),
        )  # fmt: skip
        return RollStanding(roll, facts, copies, read_files, read_bytes)

    def _takes(self, roll: Roll, skipped: Mapping[int, tuple[int, int, int, bool]]):
        rows = self.totals.get(roll.pk, {})
        takes = {take: (row["count"], row["all_bytes"]) for take, row in rows.items()}
        files = sum(row["count"] for row in rows.values()) - len(skipped)
        size = sum(row["all_bytes"] for row in rows.values()) - sum(row[2] for row in skipped.values())
        read = sum(row["read"] for row in rows.values()), sum(row["read_size"] or 0 for row in rows.values())
        return takes, files, size, *read

    def _copy(self, copy: Copy, of: list[ReadingFact], takes: list[TakeTotal], named: list[NamedFile]) -> CopyStanding:
        store: Store = self.places[copy.store_id]
        readings = tuple(copy.readings.all())
        look = getattr(copy, "look", None)
        facts = copy_facts(
            store_facts(store), takes, named, of,
            found_after=found_after(store), looked_at=look.began_at if look else None,
        )  # fmt: skip
        return CopyStanding(copy, facts, readings, found_after(store))


def _reading_fact(row: Reading) -> ReadingFact:
    results = {one.file_id: Result(one.result) for one in row.results.all()}
    return ReadingFact(row.pk, row.after, row.began_at, Evidence(row.level), row.all_but, row.until, results)


def _grouped_copies(rolls: list[Roll]) -> dict[int, list[Copy]]:
    copies = Copy.objects.filter(roll__in=rolls).order_by("store__position", "id").select_related("look")
    readings = Prefetch("readings", Reading.objects.order_by("id").prefetch_related("results"))
    found: dict[int, list[Copy]] = {}
    for copy in copies.prefetch_related(readings):
        found.setdefault(copy.roll_id, []).append(copy)
    return found


def _named_files(rolls: list[Roll]) -> dict[int, dict[int, NamedFile]]:
    """Files that some reading speaks of by name, by roll and file."""
    named = ReadingResult.objects.filter(reading__copy__roll__in=rolls).values("file")
    rows = RollFile.objects.filter(pk__in=named).values_list("pk", "roll", "take", "size")
    found: dict[int, dict[int, NamedFile]] = {}
    for pk, roll, take, size in rows:
        found.setdefault(roll, {})[pk] = NamedFile(pk, take, size)
    return found


def _totals(rolls: list[Roll]) -> dict[int, dict[int, dict[str, int]]]:
    """Counts and bytes of each take of each roll."""
    was_read = ~Q(checksum="")
    rows = (
        RollFile.objects.filter(roll__in=rolls)
        .values("roll", "take")
        .annotate(
            count=Count("pk"),
            all_bytes=Sum("size"),
            read=Count("pk", filter=was_read),
            read_size=Sum("size", filter=was_read),
        )
    )
    found: dict[int, dict[int, dict[str, int]]] = {}
    for row in rows:
        found.setdefault(row["roll"], {})[row["take"]] = row
    return found


def _without_named(
    takes: Mapping[int, tuple[int, int]],
    named: Mapping[int, NamedFile],
    skipped: Mapping[int, tuple[int, int, int, bool]],
) -> list[TakeTotal]:
    """The files of each take that no reading names and nobody waived."""
    left = {take: list(total) for take, total in takes.items()}
    apart = {file.key: (file.take, file.size) for file in named.values()}
    apart |= {pk: (take, size) for pk, (_, take, size, _) in skipped.items()}
    for take, size in apart.values():
        left[take][0] -= 1
        left[take][1] -= size
    return [TakeTotal(take, files, size) for take, (files, size) in left.items()]


def _content(rolls: list[Roll]) -> dict[int, list[FileFact]]:
    found: dict[int, list[FileFact]] = {}
    rows = RollFile.objects.filter(roll__in=rolls).values_list("roll", "path", "size", "modified_ns", "fingerprint")
    for roll, *facts in rows:
        found.setdefault(roll, []).append(FileFact(*facts))
    return found


def waived_files(rolls: Iterable[Roll], waivers: Mapping[int, Iterable[WaiverFact]]) -> Waived:
    """Which files of these rolls waivers are for. waivers: by roll"""
    found: dict[int, frozenset[int]] = {}
    wanted = {roll.pk: list(waivers.get(roll.pk, ())) for roll in rolls}
    paths = {waiver.file.path for said in wanted.values() for waiver in said}
    rows = RollFile.objects.filter(roll__in=[pk for pk, said in wanted.items() if said], path__in=paths)
    for pk, roll, *facts in rows.values_list("pk", "roll", "path", "size", "modified_ns", "fingerprint"):
        file = FileFact(*facts)
        if any(_is_for(waiver.file, file) for waiver in wanted[roll]):
            found[roll] = found.get(roll, frozenset()) | {pk}
    return found


def _is_for(waived: FileFact, file: FileFact) -> bool:
    """A file of the roll that was never read has no fingerprint: it is known by its path, size and time."""
    if waived.seen != file.seen or not same_time(waived.modified_ns, file.modified_ns):
        return False
    return not file.fingerprint or waived.fingerprint == file.fingerprint


def last_evidence() -> int:
    """The newest evidence in the ledger: what is read from now on is read after it."""
    return Reading.objects.aggregate(last=Max("pk"))["last"] or 0


def last_rolls(cards: Iterable[Card]) -> dict[int, Roll]:
    """The last roll of each card, by the card's id, in one query."""
    newest = Roll.objects.filter(card__in=cards).order_by("card_id", "-id").distinct("card_id")
    return {roll.card_id: roll for roll in newest}


def goes_on(roll: Roll, content: Iterable[FileFact], listed: Iterable[FileFact], fs_serial: str) -> bool:
    """Whether a card's last roll is what is on it now, so that new files join it.

    content: the roll's files. listed: the card's entries, as far as they are known
    Not after a format: that gives another serial, whatever the names are. Not where a file is known to be another one
    than the roll has under its name. And not where nothing of the roll is on the card any more.
    """
    if roll.fs_serial and fs_serial and roll.fs_serial != fs_serial:
        return False
    known = {file.path: file for file in content}
    here = [entry for entry in listed if entry.path in known]
    if any(_contradicts(entry, known[entry.path]) for entry in here):
        return False
    return not known or bool(here)


def _contradicts(entry: FileFact, file: FileFact) -> bool:
    """Another file than the roll has under this name. One that was never read is no content that could be lost."""
    return not entry.is_surely(file) and not entry.may_be(file)


def with_more_content(standing: RollStanding, more: Iterable[FileFact]) -> RollStanding:
    """The same roll, said to hold these files of a card too, as reading them whole has shown."""
    facts = replace(standing.facts, content=standing.facts.content | frozenset(more))
    return replace(standing, facts=facts)


def listing_serial(listing: CardListing | None) -> str:
    return listing.insertion.serial if listing else ""


def files_held(copy: Copy) -> list[RollFile]:
    """The files that a copy is known to hold."""
    return list(on_stores(copy.roll)[copy.store_id].held.values())


def _holds(file: RollFile, readings: list[ReadingFact], floor: int) -> bool:
    return holds(NamedFile(file.pk, file.take_id, file.size), readings, found_after=floor)


@dataclass(frozen=True)
class OnStore:
    """What of a roll a store is known to hold, and what is damaged there: the roll's files by path."""

    held: dict[str, RollFile]
    damaged: dict[str, RollFile]


def on_stores(roll: Roll) -> dict[int, OnStore]:
    """By the store's id, for every copy of a roll."""
    (standing,) = roll_standings([roll])
    files = list(roll.files.exclude(checksum=""))
    found = {}
    for one in standing.copies:
        readings = [_reading_fact(row) for row in one.readings]
        held = {file.path: file for file in files if _holds(file, readings, one.found_after)}
        bad = {
            file.path: file
            for file in files
            if file.path not in held and damaged(NamedFile(file.pk, file.take_id, file.size), readings)
        }
        found[one.copy.store_id] = OnStore(held, bad)
    return found


def held_anywhere(files: Iterable[RollFile]) -> set[int]:
    """Of these files, the ids of those that some copy on a store that is not lost is known to hold."""
    files = [file for file in files if file.checksum]
    rolls = list(Roll.objects.filter(pk__in={file.roll_id for file in files}))
    found: set[int] = set()
    for standing in roll_standings(rolls):
        mine = [file for file in files if file.roll_id == standing.roll.pk]
        for one in standing.copies:
            if not one.facts.store.lost:
                readings = [_reading_fact(row) for row in one.readings]
                found |= {file.pk for file in mine if _holds(file, readings, one.found_after)}
    return found


_LIKE = """
SELECT e.path, e.size FROM intake_listedentry e
JOIN rolls_rollfile f ON f.path = e.path AND f.size = e.size JOIN rolls_roll r ON r.id = f.roll_id
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
