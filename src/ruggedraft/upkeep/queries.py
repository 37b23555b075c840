"""What screens read about what is done by itself."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta

from ruggedraft.journal.clock import now
from ruggedraft.rolls.held import held_copies
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


def read_lately(cares: Mapping[int, Care], places: Mapping[int, Store]) -> dict[int, ReadLately]:
    """How much of each store was read back lately, by its id."""
    moment, copies = now(), held_copies(places)
    found = {}
    for pk in places:
        days = (cares[pk].check_days if pk in cares else None) or LATELY_DAYS
        mine = [one for one in copies if one.store == pk]
        fresh = (one for one in mine if one.read_back_at and one.read_back_at >= moment - timedelta(days=days))
        found[pk] = ReadLately(
            days, sum(one.files > 0 for one in mine), sum(one.bytes for one in mine), sum(one.bytes for one in fresh),
            sum(one.broken for one in mine),
        )  # fmt: skip
    return found
