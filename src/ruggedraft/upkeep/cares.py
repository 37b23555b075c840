"""What is done by itself on the stores that a station can work with now."""

from collections.abc import Iterable

from ruggedraft.kit.models import Station
from ruggedraft.stores.queries import store_facts

from .models import Care
from .orders import Places


def cares_here(station: Station, cares: Iterable[Care], places: Places) -> dict[int, Care]:
    """By the store's id, of those that this station sees. One that was reported lost is not there for anybody."""
    return {one.store_id: one for one in cares if store_facts(places[one.store_id], station).online}
