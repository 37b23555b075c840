"""What screens read about what is done by itself."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta

from ruggedraft.journal.clock import now
from ruggedraft.rolls.held import HeldCopy, held_copies
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
    copies: dict[int, list[HeldCopy]] = {pk: [] for pk in places}
    for one in held_copies(places):
        copies[one.store].append(one)
    days = {store: care.check_days for store, care in cares.items()}
    return {store: _lately(mine, days.get(store) or LATELY_DAYS) for store, mine in copies.items()}


def _lately(copies: Sequence[HeldCopy], days: int) -> ReadLately:
    since = now() - timedelta(days=days)
    read = sum(one.bytes for one in copies if one.read_back_at and one.read_back_at >= since)
    holding = sum(one.files > 0 for one in copies)
    return ReadLately(days, holding, sum(one.bytes for one in copies), read, sum(one.broken for one in copies))
