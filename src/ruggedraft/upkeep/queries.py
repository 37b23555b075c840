"""What screens read about what is done by itself."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta

from django.db.models import Case, Count, F, Q, Sum, Value, When

from ruggedraft.core.evidence import Evidence
from ruggedraft.journal.clock import now
from ruggedraft.rolls.models import CopySummary
from ruggedraft.rolls.summaries import microseconds
from ruggedraft.stores.models import Store

from .models import Care

LATELY_DAYS = 30
"""Where nothing is asked of a store, it is told how much was read within so many days."""


@dataclass(frozen=True)
class ReadLately:
    """bytes: of the rolls on a store, as known to be held. read: of them, in copies read back whole within `days`

    copies: how many there are. broken: files of them that are damaged there, or gone
    """

    days: int
    copies: int
    bytes: int
    read: int
    broken: int


def cares_of(stores: Mapping[int, Store]) -> dict[int, Care]:
    """What is asked for each store, by its id."""
    found = Care.objects.filter(store__in=stores).select_related("person").defer("person__password")
    return {one.store_id: one for one in found}


def read_lately(cares: Mapping[int, Care]) -> dict[int, ReadLately]:
    """How much of each store was read back lately, by its id; of stores that hold something."""
    moment = now()
    own = [When(copy__store=store, then=Value(microseconds(moment - timedelta(days=care.check_days or LATELY_DAYS))))
           for store, care in cares.items()]  # fmt: skip
    since = Case(*own, default=Value(microseconds(moment - timedelta(days=LATELY_DAYS))))
    fresh = Q(**{f"proven_us__{Evidence.READ_BACK.value}__gte": F("since")})
    rows = (
        CopySummary.objects.filter(files__gt=0, copy__left_at=None, version=F("copy__roll__version"))
        .annotate(since=since)
        .values("copy__store")
        .annotate(copies=Count("pk"), held=Sum("bytes"), read=Sum("bytes", filter=fresh), broken=Sum("broken_files"))
    )
    days = {store: care.check_days or LATELY_DAYS for store, care in cares.items()}
    return {
        row["copy__store"]: ReadLately(
            days.get(row["copy__store"], LATELY_DAYS), row["copies"], row["held"], row["read"] or 0, row["broken"]
        )
        for row in rows
    }
