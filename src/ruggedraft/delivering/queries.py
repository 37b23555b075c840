"""What screens and the client's page see of deliveries."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, QuerySet, Sum

from ruggedraft.core.delivering import sent_whole
from ruggedraft.core.errors import NotThere
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll, RollFile

from .models import ConsignedRoll, Consignment, Emblem, Fetched, Receipt

MOST = 200


@dataclass(frozen=True)
class Delivered:
    """files, bytes: of all that goes. fetched: files of which every byte went out. link_until: None where there is none

    open: its link opens now. receipts: oldest first
    """

    row: Consignment
    rolls: Sequence[ConsignedRoll]
    files: int
    bytes: int
    fetched: int
    link_until: datetime | None
    has_password: bool
    open: bool
    receipts: Sequence[Receipt]


def deliveries_of(production: Production) -> list[Delivered]:
    """Newest first, the last two hundred."""
    rows = Consignment.objects.filter(production=production).select_related("by", "withdrawn_by", "link")
    found = list(rows.prefetch_related("rolls__roll", "receipts__person").order_by("-pk")[:MOST])
    sizes, out = _sizes(found), _whole(found)
    return [_delivered(row, sizes, len(out[row.pk])) for row in found]


def emblem_of(production: Production) -> Emblem | None:
    """What its clients' pages show, if anything."""
    return Emblem.objects.filter(production=production).select_related("by").first()


def _sizes(rows: Sequence[Consignment]) -> dict[int, tuple[int, int]]:
    """By the consigned roll's id: files and bytes that go."""
    going = [one for row in rows for one in row.rolls.all()]
    read = RollFile.objects.exclude(checksum="")
    takes = read.filter(roll__in=[one.roll_id for one in going]).values_list("roll", "take")
    counted = list(takes.annotate(Count("pk"), Sum("size")))
    chosen = {pk for one in going for pk in one.files or ()}
    size_of = dict(read.filter(pk__in=chosen).values_list("pk", "size"))
    return {one.pk: _of_chosen(one.files, size_of) if one.files else _of_takes(one, counted) for one in going}


def _of_takes(one: ConsignedRoll, counted: Sequence[tuple[int, int, int, int]]) -> tuple[int, int]:
    """counted: of each take its roll, its id, files and bytes"""
    mine = [(count, size) for roll, take, count, size in counted if roll == one.roll_id and take <= one.until]
    return sum(count for count, _ in mine), sum(size for _, size in mine)


def _of_chosen(files: Sequence[int], size_of: Mapping[int, int]) -> tuple[int, int]:
    sizes = [size_of[pk] for pk in files if pk in size_of]
    return len(sizes), sum(sizes)


def _whole(rows: Sequence[Consignment]) -> dict[int, set[int]]:
    """By consignment (id), the ids of the files of which every byte went out."""
    parts: dict[tuple[int, int, int], list[tuple[int, int]]] = defaultdict(list)
    fetched = Fetched.objects.filter(consignment__in=rows)
    for row, file, size, *part in fetched.values_list("consignment", "file", "file__size", "first", "size"):
        parts[row, file, size].append((part[0], part[1]))
    found: dict[int, set[int]] = {row.pk: set() for row in rows}
    for (row, file, size), of in parts.items():
        if sent_whole(size, of):
            found[row].add(file)
    return found


def delivery_with(production: Production, consignment_id: int) -> Consignment:
    """Raises NotThere."""
    found = Consignment.objects.filter(production=production, pk=consignment_id).first()
    if found is None:
        raise NotThere(f"There is no such delivery in {production.name}.")
    return found


def _delivered(row: Consignment, sizes: Mapping[int, tuple[int, int]], fetched: int) -> Delivered:
    link = getattr(row, "link", None)
    going = [sizes[one.pk] for one in row.rolls.all()]
    is_open = link is not None and link.revoked_at is None and link.until > now() and row.withdrawn_at is None
    return Delivered(
        row, sorted(row.rolls.all(), key=lambda one: one.roll.tag), sum(files for files, _ in going),
        sum(size for _, size in going), fetched, link.until if link else None, bool(link and link.hashed), is_open,
        sorted(row.receipts.all(), key=lambda one: one.pk),
    )  # fmt: skip


def files_of(one: ConsignedRoll) -> QuerySet[RollFile]:
    """Those of a roll that go: what was read off the card, and of that what was chosen; in the order of their paths."""
    rows = RollFile.objects.filter(roll=one.roll, take__lte=one.until).exclude(checksum="").order_by("path")
    return rows if one.files is None else rows.filter(pk__in=one.files)


def fetched_whole(row: Consignment) -> set[int]:
    """Ids of the files of which every byte went out."""
    return _whole([row])[row.pk]


def consigned(row: Consignment) -> Iterator[ConsignedRoll]:
    """Each with roll, camera and edition, in the order of tags."""
    rows = row.rolls.select_related("roll__camera", "roll__card", "edition__paper")
    yield from rows.defer("edition__facts", "edition__paper__content").order_by("roll__tag")


def file_in(row: Consignment, tag: str, kept_as: str) -> RollFile:
    """By its roll and its name in copies. Raises NotThere for what does not go."""
    one = row.rolls.filter(roll__tag=tag).select_related("roll").first()
    if one is not None:
        named = files_of(one).select_related("roll")
        found = named.filter(kept_as=kept_as).first() or named.filter(kept_as="", path=kept_as).first()
        if found is not None:
            return found
    raise NotThere("There is no such page, or it is not open any more.")


def roll_of_file(row: Consignment, file_id: int) -> Roll:
    """Of a file (id) that goes. Raises NotThere for what does not."""
    one = row.rolls.filter(roll__files=file_id).select_related("roll").first()
    if one is None or not files_of(one).filter(pk=file_id).exists():
        raise NotThere("There is no such page, or it is not open any more.")
    return one.roll
