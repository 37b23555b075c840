"""Which files have not been gone through for pictures, and can be at a station now."""

from collections.abc import Iterator
from dataclasses import dataclass

from django.db.models import F, QuerySet

from ruggedraft.core.stores import StoreKind
from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Copy, Roll, RollFile
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.queries import store_facts

from .acts.keep_pictures import note_all_seen

_AT_ONCE = 200
"""Files of a roll; after them it is asked again whether there is something more urgent."""


@dataclass(frozen=True)
class Due:
    """files: main files of clips. copies: verified ones that they can be read from here, in the order of the stores"""

    roll: Roll
    copies: tuple[Copy, ...]
    files: tuple[RollFile, ...]


def due_at(station: Station) -> Due | None:
    """The newest roll of which something is to be gone through, and a verified copy is at hand."""
    places = places_of_all()
    here = {pk for pk, store in places.items() if store.kind == StoreKind.FOLDER and store_facts(store, station).online}
    open_rolls = Roll.objects.exclude(seen__content=F("content")).filter(copies__store__in=here).order_by("-pk")
    for roll in open_rolls.distinct():
        files = tuple(_not_gone_through(roll)[:_AT_ONCE])
        if not files:
            note_all_seen(roll)
        elif copies := tuple(_verified(roll_standings([roll.pk], places)[roll.pk], here)):
            return Due(roll, copies, files)
    return None


def _not_gone_through(roll: Roll) -> QuerySet[RollFile]:
    files = RollFile.objects.filter(roll=roll, is_clip=True, seen=None).exclude(checksum="")
    return files.select_related("known_media__media").order_by("pk")


def _verified(standing: RollStanding, stores: set[int]) -> Iterator[Copy]:
    """Whole, read back, not lost, and on one of these stores."""
    for one in standing.copies:
        if one.facts.whole_and_read_back and not one.facts.store.lost and one.store.pk in stores:
            yield one.copy
