from datetime import timedelta

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import all_stations, is_running, looks_queue
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_lost, store_facts, stores

from ..models import StoreComparison

_GIVEN_UP_AFTER = timedelta(minutes=60)


@transaction.atomic
def ask_comparison(person: Person, left: Store | None, right: Store) -> StoreComparison:
    """Have a store compared with another one, by names and sizes, by a station that sees both. Raises ActRefused.

    left: None to compare with what the ledger knows to be on the right
    """
    from ..tasks import compare_stores

    require(person, May.CHECK)
    if left == right:
        raise ActRefused("Say two stores to compare.")
    sides = [stores().get(pk=one.pk) for one in (left, right) if one]
    station = _station(sides)
    words = f"'{left.name}'" if left else "what the ledger knows of it"
    before = StoreComparison.objects.filter(left=left, right=right)
    if before.filter(finished_at=None, asked_at__gt=now() - _GIVEN_UP_AFTER).exists():
        raise ActRefused(f"'{right.name}' is being compared with {words} already.")
    before.delete()
    asked = StoreComparison.objects.create(left=left, right=right, station=station, person=person, asked_at=now())
    write("compare stores", right.name, f"'{right.name}' is to be compared with {words}.", person=person,
          origin=station.name)  # fmt: skip
    changed(Topic.STORES)
    compare_stores.configure(queue=looks_queue(station)).defer(comparison_id=asked.pk)
    return asked


def _station(sides: list[Store]) -> Station:
    for store in sides:
        if is_lost(store):
            raise ActRefused(f"'{store.name}' was reported lost: say that it was found first.")
        if not store_facts(store).online:
            raise ActRefused(f"'{store.name}' is not connected to any station: connect it.")
    able = [one for one in all_stations() if all(store_facts(store, one).online for store in sides)]
    if not able:
        names = " and ".join(f"'{store.name}'" for store in sides)
        raise ActRefused(f"No station sees {names}: connect them to one.")
    return max(able, key=is_running)
