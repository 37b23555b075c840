"""Which damaged copies a station should mend by itself."""

from collections.abc import Iterable
from zoneinfo import ZoneInfo

from django.db.models import F, Q

from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.offloads.models import Feed
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.queries import store_facts

from .models import Care
from .orders import Places
from .tries import may_try, tries_by


def copies_to_mend(station: Station, cares: Iterable[Care], places: Places) -> list[tuple[Copy, Care]]:
    """Copies on stores that this station sees, of which files are damaged or gone, and that are whole elsewhere."""
    mine = {one.store_id: one for one in cares if one.mends and store_facts(places[one.store_id], station).online}
    if not mine:
        return []
    moment = now()
    perhaps = Q(summary__broken_files__gt=0) | Q(summary=None) | ~Q(summary__version=F("roll__version"))
    hurt = Copy.objects.filter(perhaps, store__in=mine).select_related("roll__production", "store")
    copies = {copy.pk: copy for copy in hurt.order_by("pk")}
    tries = tries_by("copy_id", Feed.objects.filter(copy__in=list(copies)))
    found = []
    for standing in roll_standings({copy.roll_id for copy in copies.values()}, places).values():
        for one in standing.copies:
            copy = copies.get(one.id)
            if copy is None or not one.facts.broken_files or one.facts.store.lost:
                continue
            care, zone = mine[copy.store_id], ZoneInfo(copy.roll.production.time_zone)
            if may_try(tries, one.id, moment) and care.hours.is_open(moment.astimezone(zone).time()):
                found.append((copy, care))
    return found
