"""What screens read about folders that people work in, and what is brought back to them."""

from collections.abc import Sequence
from datetime import date

from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll

from .models import FolderLook, FolderRow, Return

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


def rows_after(look: FolderLook, after: int) -> tuple[list[FolderRow], int | None]:
    """Files that are not as they were, in their order, each with its file and roll; and what to ask for next."""
    rows = list(look.rows.filter(n__gt=after).select_related("file__roll").order_by("n")[: _A_PAGE + 1])
    return rows[:_A_PAGE], rows[_A_PAGE - 1].n if len(rows) > _A_PAGE else None


def returns_of(production: Production) -> list[Return]:
    """The last twenty, newest first."""
    rows = Return.objects.filter(roll__production=production).select_related("roll", "station", "person")
    return list(rows.order_by("-pk")[:_RETURNS])


def tags_of_day(production: Production, day: date) -> Sequence[str]:
    """Of the rolls that were shot on a day. Raises NotThere where there are none."""
    tags = Roll.objects.filter(production=production, shoot_day=day).order_by("tag").values_list("tag", flat=True)
    if not tags:
        raise NotThere(f"Nothing was shot on {day.isoformat()}.")
    return list(tags)
