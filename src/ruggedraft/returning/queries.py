"""What screens read about folders that people work in, and what is brought back to them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll

from .models import FolderLook, FolderRow, MakingOfCopies, Return, RowKind, TakeAway

_RETURNS, _A_PAGE = 20, 200


def looks_of(production: Production) -> list[FolderLook]:
    """Those that are kept, newest first."""
    rows = FolderLook.objects.filter(production=production).select_related("station", "person", "stopped_by")
    return list(rows.defer("listed").order_by("-pk"))


def look_of(production: Production, look_id: int) -> FolderLook:
    """Raises NotThere."""
    rows = FolderLook.objects.select_related("station", "person", "stopped_by").defer("listed")
    found = rows.filter(production=production, pk=look_id).first()
    if found is None:
        raise NotThere("There is no such look into a folder any more: look again.")
    return found


@dataclass(frozen=True)
class Since:
    """What happened in a folder since it was looked into, by ids of files.

    back: brought back, and when that ended. coming: asked for, and under way
    """

    back: Mapping[int, datetime]
    coming: frozenset[int]


def since(look: FolderLook) -> Since:
    """Of one that was looked into, by what the ledger knows: others may have done anything there."""
    rows = Return.objects.filter(station=look.station_id, folder=look.folder, asked_at__gte=look.asked_at)
    back, coming = dict[int, datetime](), set[int]()
    for finished, files, came in rows.order_by("pk").values_list("finished_at", "files", "back"):
        if finished is None:
            coming |= {file for file, _ in files}
        else:
            back |= dict.fromkeys(came, finished)
    return Since(back, frozenset(coming))


def missing_still(look: FolderLook, happened: Since) -> int:
    """How many files were missing, and neither came back since nor are coming."""
    missing = look.rows.filter(kind=RowKind.MISSING).exclude(file__in=[*happened.back, *happened.coming])
    return missing.count()


def unknown_in(look: FolderLook) -> int:
    """How many names of the project's list nobody can tell."""
    return look.rows.filter(kind=RowKind.UNKNOWN).count()


def rows_after(look: FolderLook, after: int) -> tuple[list[FolderRow], int | None]:
    """Files that are not as they were, in their order, each with its file and roll; and what to ask for next."""
    rows = list(look.rows.filter(n__gt=after).select_related("file__roll").order_by("n")[: _A_PAGE + 1])
    return rows[:_A_PAGE], rows[_A_PAGE - 1].n if len(rows) > _A_PAGE else None


def returns_of(production: Production) -> list[Return]:
    """The last twenty, newest first."""
    rows = Return.objects.filter(roll__production=production).select_related("roll", "station", "person")
    return list(rows.order_by("-pk")[:_RETURNS])


def making_of(production: Production) -> list[MakingOfCopies]:
    """The last twenty, newest first."""
    rows = MakingOfCopies.objects.filter(roll__production=production).select_related("roll", "station", "person")
    return list(rows.order_by("-pk")[:_RETURNS])


def take_aways_of(production: Production) -> list[TakeAway]:
    """The last twenty, newest first."""
    rows = TakeAway.objects.filter(roll__production=production).select_related("roll", "station", "person")
    return list(rows.order_by("-pk")[:_RETURNS])


def tags_of_day(production: Production, day: date) -> Sequence[str]:
    """Of the rolls that were shot on a day. Raises NotThere where there are none."""
    tags = Roll.objects.filter(production=production, shoot_day=day).order_by("tag").values_list("tag", flat=True)
    if not tags:
        raise NotThere(f"Nothing was shot on {day.isoformat()}.")
    return list(tags)
