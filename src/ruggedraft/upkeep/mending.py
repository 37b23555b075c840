"""Which damaged copies a station should mend by itself."""

from collections.abc import Iterable, Mapping

from django.db.models import F, Q

from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.offloads.models import Feed
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.summaries import roll_standings

from .cares import cares_here
from .models import Care
from .orders import Places
from .tries import may_try, tries_by


def copies_to_mend(station: Station, cares: Iterable[Care], places: Places) -> list[tuple[Copy, Care]]:
    """Copies on stores that this station sees, of which files are damaged or gone."""
    mine = cares_here(station, (one for one in cares if one.mends), places)
    copies = _perhaps_hurt(mine)
    hurt = _hurt(copies, places)
    tries, moment = tries_by("copy_id", Feed.objects.filter(copy__in=hurt)), now()
    due = ((copies[pk], mine[copies[pk].store_id]) for pk in hurt if may_try(tries, pk, moment))
    return [(copy, care) for copy, care in due if care.may_begin(copy.roll.production, moment)]


def _hurt(copies: Mapping[int, Copy], places: Places) -> list[int]:
    """Of these, by id, those that are, as everything that was noted has it."""
    standings = roll_standings({copy.roll_id for copy in copies.values()}, places)
    every = (one for standing in standings.values() for one in standing.copies)
    return [one.id for one in every if one.id in copies and one.facts.broken_files]


def _perhaps_hurt(stores: Iterable[int]) -> dict[int, Copy]:
    """What is remembered to be, and that of which nothing is remembered."""
    perhaps = Q(summary__broken_files__gt=0) | Q(summary=None) | ~Q(summary__version=F("roll__version"))
    found = Copy.objects.filter(perhaps, store__in=list(stores)).select_related("roll__production", "store")
    return {copy.pk: copy for copy in found.order_by("pk")}
