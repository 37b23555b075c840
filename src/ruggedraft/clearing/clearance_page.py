"""A clearance as whoever asks later reads it."""

from collections.abc import Mapping
from dataclasses import dataclass

from ruggedraft.core.errors import NotThere
from ruggedraft.core.redundancy import RollState
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Production
from ruggedraft.rolls.summaries import places_of_all

from .evidence import ClearedFile, unpacked
from .models import Clearance, HandedBack, Revocation
from .roll_cases import roll_cases

_MOST_FILES, _MOST_EVENTS = 500, 100


@dataclass(frozen=True)
class ClearancePage:
    """files: the first of what was on the card; files_in_all: how many, 0 where an earlier version wrote none down.

    rolls_now: how its rolls stand now, by tag. since: what the journal says of card and rolls since, newest first
    """

    row: Clearance
    files: tuple[ClearedFile, ...]
    files_in_all: int
    revocation: Revocation | None
    handed_back: HandedBack | None
    rolls_now: Mapping[str, RollState]
    since: tuple[JournalEntry, ...]


def clearance_with(production: Production, clearance_id: int) -> ClearancePage:
    """Raises NotThere."""
    rows = Clearance.objects.select_related("card", "roll").filter(roll__production=production, pk=clearance_id)
    row = rows.first()
    if row is None:
        raise NotThere(f"There is no such clearance in {production.name}.")
    files = list(unpacked(bytes(row.files))) if row.files else []
    states = roll_cases(production, row.rolls.values_list("pk", flat=True), places_of_all(), now())
    tags = [one.standing.roll.tag for one in states]
    return ClearancePage(
        row, tuple(files[:_MOST_FILES]), len(files),
        Revocation.objects.filter(clearance=row).select_related("person").first(),
        HandedBack.objects.filter(clearance=row).last(),
        {one.standing.roll.tag: one.state for one in states},
        tuple(_since(row, tags)),
    )  # fmt: skip


def _since(row: Clearance, tags: list[str]) -> list[JournalEntry]:
    signed = JournalEntry.objects.filter(act="clear", subject=row.roll.tag, detail__clearance=row.pk).first()
    later = JournalEntry.objects.filter(subject__in=[row.card.label, *tags], pk__gt=signed.pk if signed else 0)
    return list(later.select_related("person").order_by("-pk")[:_MOST_EVENTS])
