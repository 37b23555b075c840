from datetime import timedelta

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.kit.stations import looks_queue
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_lost, productions_of, station_that_sees, stores

from ..models import StoreSearch

_GIVEN_UP_AFTER = timedelta(minutes=30)


@transaction.atomic
def ask_search(person: Person, store: Store) -> StoreSearch:
    """Have a station that sees a store look through it for rolls. Nothing is read or changed. Raises ActRefused."""
    from ..tasks import search_store

    require(person, May.CHECK, *productions_of(store))
    store = stores().get(pk=store.pk)
    if is_lost(store):
        raise ActRefused(f"'{store.name}' was reported lost: say that it was found first.")
    station = station_that_sees(store)
    if station is None:
        raise ActRefused(f"'{store.name}' is not connected to any station: connect it.")
    going = StoreSearch.objects.filter(store=store, finished_at=None, asked_at__gt=now() - _GIVEN_UP_AFTER)
    if going.exists():
        raise ActRefused(f"'{store.name}' is being looked through already.")
    search = StoreSearch.objects.create(store=store, station=station, person=person, asked_at=now())
    write_in_each(
        productions_of(store),
        "search store",
        store.name,
        f"'{store.name}' is to be looked through for rolls.",
        person=person,
        origin=station.name,
    )
    changed(Topic.STORES)
    search_store.configure(queue=looks_queue(station)).defer(search_id=search.pk)
    return search
