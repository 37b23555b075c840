"""Which rolls somebody wants brought onward to a store, and what would come of it now."""

from collections.abc import Iterable
from datetime import date
from enum import StrEnum

from django.db.models import QuerySet

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.onward import Onward, Wanted, onward
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts, store_in

from .models import Feed, Offload


class OnwardOf(StrEnum):
    """What is brought onward. `which` says more of some."""

    EVERYTHING = "everything"
    NO_OFFSITE = "no copy off-site"
    DAY = "a day"
    """which: the shoot day, as YYYY-MM-DD"""
    STORE = "a store"
    """which: its name; every roll with a copy there"""


def onward_now(production: Production, of: OnwardOf, which: str, store_name: str) -> Onward:
    """What would be brought to a store if somebody asked now. Raises ActRefused, NotThere."""
    store = store_in(production.pk, store_name)
    places = places_of_all()
    standings = roll_standings(_rolls(production, of, which).values_list("pk", flat=True), places)
    wanted = [one for one in standings.values() if of is not OnwardOf.NO_OFFSITE or not _is_offsite(one)]
    open_runs = _open_runs(wanted, store)
    return onward((_wanted(one, store, open_runs.get(one.roll.pk, "")) for one in wanted), store_facts(store))


def _rolls(production: Production, of: OnwardOf, which: str) -> QuerySet[Roll]:
    rolls = Roll.objects.filter(production=production).order_by("pk")
    if of is OnwardOf.DAY:
        try:
            return rolls.filter(shoot_day=date.fromisoformat(which))
        except ValueError as error:
            raise ActRefused(f"'{which}' is no day.") from error
    if of is OnwardOf.STORE:
        return rolls.filter(copies__store=store_in(production.pk, which)).distinct()
    return rolls


def _is_offsite(standing: RollStanding) -> bool:
    """Whether a whole copy, read back, is at a place that is off-site and not lost."""
    whole = (one.facts for one in standing.copies if one.facts.whole_and_read_back)
    return any(copy.store.offsite and copy.store.counts and not copy.store.lost for copy in whole)


def _open_runs(standings: Iterable[RollStanding], store: Store) -> dict[int, str]:
    """By the roll's id, what keeps it from being brought there: what is under way, or was taken off on purpose."""
    ids = [one.roll.pk for one in standings]
    offloads = Offload.objects.filter(roll__in=ids, finished_at=None).values_list("roll_id", flat=True)
    feeds = Feed.objects.filter(roll__in=ids, copy__store=store, finished_at=None).values_list("roll_id", flat=True)
    thinned = Copy.every.filter(roll__in=ids, store=store).exclude(thinned_at=None).values_list("roll_id", flat=True)
    return {
        **dict.fromkeys(thinned, "room was made of it there: have it alone brought back, if it is wanted again"),
        **dict.fromkeys(offloads, "its card is being offloaded"),
        **dict.fromkeys(feeds, "it is being brought already"),
    }


def _wanted(standing: RollStanding, store: Store, open_run: str) -> Wanted:
    good = [one.store.name for one in standing.to_bring_from(store) if one.facts.store.online]
    return Wanted(standing.roll.tag, standing.facts, tuple(good), open_run)
