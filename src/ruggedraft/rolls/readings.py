"""How rolls and their copies stand, worked out from everything that was ever taken, read, looked at and waived."""

import threading
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from cachetools import LRUCache
from django.db import transaction
from django.db.models import Count, F, Prefetch, Q, Sum

from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.redundancy import (
    CopyFacts,
    FileFact,
    NamedFile,
    RollFacts,
    TakeTotal,
    WaiverFact,
    copy_facts,
    in_no_copy,
    same_time,
)
from ruggedraft.core.redundancy import Reading as ReadingFact
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after, store_facts

from .models import ClipOpening, Copy, LeftBehind, Reading, ReadingResult, Roll, RollFile, Waiver


@dataclass(frozen=True)
class CopyStanding:
    """A copy, and the facts that follow from its readings and looks.

    id, folder: of its row. readings: how many there are. found_after: see `core.redundancy.copy_facts`
    """

    id: int
    roll: Roll
    store: Store
    folder: str
    facts: CopyFacts
    readings: int
    found_after: int = 0

    @property
    def copy(self) -> Copy:
        """Its row."""
        return Copy(pk=self.id, roll=self.roll, store=self.store, folder=self.folder)


@dataclass(frozen=True)
class RollStanding:
    """A roll's row, its facts, and its copies in the order of the stores.

    read_files, read_bytes: what of its content has been read off the card
    clips: how many a whole copy must hold. opened: how many of them somebody opened
    """

    roll: Roll
    facts: RollFacts
    copies: tuple[CopyStanding, ...]
    read_files: int
    read_bytes: int
    clips: int = 0
    opened: int = 0

    def to_bring_from(self, store: Store) -> list[CopyStanding]:
        """Copies from which another store may be brought what it lacks: whole, read back and not lost."""
        others = [one for one in self.copies if one.store.pk != store.pk and not one.facts.store.lost]
        return [one for one in others if one.facts.whole_and_read_back]


@dataclass(frozen=True)
class Skipped:
    """A file of a roll that was waived."""

    roll: int
    take: int
    size: int
    read: bool
    is_clip: bool


@dataclass(frozen=True)
class _TakeRow:
    """What one take of a roll brought: files and bytes, how much of that was read off the card, and clips."""

    files: int
    bytes: int
    read_files: int
    read_bytes: int
    clips: int


def looked_at(opened: int, clips: int, files: int) -> float:
    """The share of clips that somebody opened. Where none was understood as a clip, every file passes for one."""
    return min(1.0, opened / (clips or files)) if clips or files else 0.0


def worked_out(rolls: Iterable[Roll], places: Mapping[int, Store]) -> list[RollStanding]:
    """In a number of queries that does not depend on how many rolls there are; it reads whatever was noted of them.

    places: every store, from `stores.queries.stores()`, by id
    """
    loaded = _Loaded(list(rolls), places)
    return [loaded.standing(roll) for roll in loaded.rolls]


class _Loaded:
    def __init__(self, rolls: list[Roll], places: Mapping[int, Store]) -> None:
        self.rolls = rolls
        self.places = places
        self.copies = _grouped_copies(rolls)
        self.named = _named_files(rolls)
        self.takes = _takes(rolls)
        self.skipped = waived_files(rolls)
        self.opened = _opened_files(rolls)
        left = LeftBehind.objects.filter(roll__in=rolls).values("roll").annotate(count=Count("pk"))
        self.left = {row["roll"]: row["count"] for row in left}

    def standing(self, roll: Roll) -> RollStanding:
        skipped = {pk: row for pk, row in self.skipped.items() if row.roll == roll.pk}
        takes = self.takes.get(roll.pk, {})
        named = self.named.get(roll.pk, {})
        needed = [file for key, file in named.items() if key not in skipped]
        plain = _without_named(takes, named, skipped)
        spoken = [(copy, reading_facts(copy.readings.all())) for copy in self.copies.get(roll.pk, ())]
        copies = tuple(self._copy(roll, copy, of, plain, needed) for copy, of in spoken)
        alive = [(of, one.found_after) for one, (_, of) in zip(copies, spoken, strict=True) if not one.facts.store.lost]
        whole, gone = _sum_of_takes(takes.values()), _sum_of_skipped(skipped.values())
        clips, opened = whole.clips - gone.clips, len(self.opened.get(roll.pk, set()) - skipped.keys())
        facts = RollFacts(
            roll.tag, frozenset(), tuple(one.facts for one in copies),
            files=whole.files - gone.files, bytes=whole.bytes - gone.bytes,
            unread=(whole.files - whole.read_files) - (gone.files - gone.read_files),
            bare=in_no_copy(plain, needed, alive), waived=len(skipped), left=self.left.get(roll.pk, 0),
            looked_at=looked_at(opened, clips, whole.files - gone.files),
        )  # fmt: skip
        return RollStanding(roll, facts, copies, whole.read_files, whole.read_bytes, clips, opened)

    def _copy(
        self, roll: Roll, copy: Copy, of: list[ReadingFact], takes: list[TakeTotal], named: list[NamedFile]
    ) -> CopyStanding:
        store = self.places[copy.store_id]
        look = getattr(copy, "look", None)
        facts = copy_facts(
            store_facts(store), takes, named, of,
            found_after=found_after(store), looked_at=look.began_at if look else None,
        )  # fmt: skip
        return CopyStanding(copy.pk, roll, store, copy.folder, facts, len(of), found_after(store))


def reading_facts(rows: Iterable[Reading]) -> list[ReadingFact]:
    """Readings (with their results) as the core judges them, in the order in which they were noted."""
    return [
        ReadingFact(
            row.pk, row.after, row.began_at, Evidence(row.level), row.all_but, row.until,
            {one.file_id: Result(one.result) for one in row.results.all()},
        )
        for row in rows
    ]  # fmt: skip


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


def _takes(rolls: list[Roll]) -> dict[int, dict[int, _TakeRow]]:
    """By roll and take."""
    was_read = ~Q(checksum="")
    rows = (
        RollFile.objects.filter(roll__in=rolls)
        .values_list("roll", "take")
        .annotate(
            files=Count("pk"),
            bytes=Sum("size"),
            read_files=Count("pk", filter=was_read),
            read_bytes=Sum("size", filter=was_read),
            clips=Count("pk", filter=Q(is_clip=True)),
        )
    )
    found: dict[int, dict[int, _TakeRow]] = {}
    for roll, take, files, size, read_files, read_bytes, clips in rows:
        found.setdefault(roll, {})[take] = _TakeRow(files, size, read_files, read_bytes or 0, clips)
    return found


def _opened_files(rolls: list[Roll]) -> dict[int, set[int]]:
    """Files of clips that somebody opened, by roll."""
    found: dict[int, set[int]] = {}
    for roll, file in ClipOpening.objects.filter(roll__in=rolls).values_list("roll", "file"):
        found.setdefault(roll, set()).add(file)
    return found


def _sum_of_takes(rows: Iterable[_TakeRow]) -> _TakeRow:
    told = [(row.files, row.bytes, row.read_files, row.read_bytes, row.clips) for row in rows]
    return _TakeRow(*map(sum, zip(*told, strict=True))) if told else _TakeRow(0, 0, 0, 0, 0)


def _sum_of_skipped(rows: Iterable[Skipped]) -> _TakeRow:
    return _sum_of_takes(_TakeRow(1, row.size, int(row.read), row.size * row.read, int(row.is_clip)) for row in rows)


def _without_named(
    takes: Mapping[int, _TakeRow], named: Mapping[int, NamedFile], skipped: Mapping[int, Skipped]
) -> list[TakeTotal]:
    """The files of each take that no reading names and nobody waived."""
    left = {take: [row.files, row.bytes] for take, row in takes.items()}
    apart = {file.key: (file.take, file.size) for file in named.values()}
    apart |= {pk: (row.take, row.size) for pk, row in skipped.items()}
    for take, size in apart.values():
        left[take][0] -= 1
        left[take][1] -= size
    return [TakeTotal(take, files, size) for take, (files, size) in left.items()]


def content_of(rolls: Iterable[Roll]) -> dict[int, frozenset[FileFact]]:
    """Which files each roll is made of, by the roll's id, for the coverage of a card."""
    return _content([roll.pk for roll in rolls])


def _content(rolls: Sequence[int]) -> dict[int, frozenset[FileFact]]:
    found: dict[int, list[FileFact]] = {}
    rows = RollFile.objects.filter(roll__in=rolls)
    columns = ("roll", "path", "size", "modified_ns", "fingerprint")
    for roll, path, size, modified_ns, fingerprint in rows.values_list(*columns):
        found.setdefault(roll, []).append(FileFact(path, size, modified_ns, fingerprint))
    return {roll: frozenset(files) for roll, files in found.items()}


def content_lately(rolls: Iterable[Roll]) -> dict[int, frozenset[FileFact]]:
    """The same for screens and proposals: each version of a roll's content is read once a process, while there is room.

    Not for what somebody signs. rolls: as they were just read
    """
    keys = {roll.pk: (roll.pk, roll.content) for roll in rolls}
    with _keeping:
        found = {pk: _kept[key] for pk, key in keys.items() if key in _kept}
    missing = [pk for pk in keys if pk not in found]
    read = _content(missing) if missing else {}
    fresh = {keys[pk]: read.get(pk, frozenset()) for pk in missing}
    transaction.on_commit(partial(_keep, fresh))  # what was read in a transaction that is undone never was
    return found | {pk: content for (pk, _), content in fresh.items()}


def _keep(fresh: Mapping[tuple[int, int], frozenset[FileFact]]) -> None:
    with _keeping:
        _kept.update({key: content for key, content in fresh.items() if len(content) < _MOST_KEPT})


_MOST_KEPT = 300_000
_kept: LRUCache[tuple[int, int], frozenset[FileFact]] = LRUCache(_MOST_KEPT, getsizeof=len)
_keeping = threading.Lock()


def waivers_of(rolls: Iterable[Roll]) -> dict[int, list[WaiverFact]]:
    """What was waived of each roll's content on its own card, by the roll's id.

    The same file on another card is another question, to be answered there.
    """
    found: dict[int, list[WaiverFact]] = {}
    rows = Waiver.objects.filter(roll__in=list(rolls), card=F("roll__card"))
    for row in rows.select_related("person").defer("person__password").order_by("pk"):
        file = FileFact(row.path, row.size, row.modified_ns, row.fingerprint)
        if row.roll_id:
            found.setdefault(row.roll_id, []).append(WaiverFact(file, row.reason, row.person.shown_name))
    return found


def waived_files(rolls: list[Roll]) -> dict[int, Skipped]:
    """The files of these rolls that waivers are for, by file."""
    waivers = waivers_of(rolls)
    paths = {waiver.file.path for said in waivers.values() for waiver in said}
    rows = RollFile.objects.filter(roll__in=waivers, path__in=paths)
    columns = ("pk", "roll", "take", "checksum", "is_clip", "path", "size", "modified_ns", "fingerprint")
    found = {}
    for pk, roll, take, checksum, is_clip, *facts in rows.values_list(*columns):
        file = FileFact(*facts)
        if any(_is_for(waiver.file, file) for waiver in waivers[roll]):
            found[pk] = Skipped(roll, take, file.size, bool(checksum), is_clip)
    return found


def _is_for(waived: FileFact, file: FileFact) -> bool:
    """A file of the roll that was never read has no fingerprint: it is known by its path, size and time."""
    if waived.seen != file.seen or not same_time(waived.modified_ns, file.modified_ns):
        return False
    return not file.fingerprint or waived.fingerprint == file.fingerprint
