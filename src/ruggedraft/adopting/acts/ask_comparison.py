from datetime import timedelta

from django.db import transaction
from django.db.models import Q

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import all_stations, is_running, looks_queue, readings_queue
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_lost, productions_of, store_facts, stores

from ..models import StoreComparison

_GIVEN_UP_AFTER = timedelta(minutes=60)


def _under_way() -> Q:
    """What was asked for lately, or read lately: nobody may be working on it any more."""
    since = now() - _GIVEN_UP_AFTER
    return Q(asked_at__gt=since) | Q(read_at__gt=since)


@transaction.atomic
def ask_comparison(person: Person, left: Store | None, right: Store, *, by_content: bool = False) -> StoreComparison:
    """Have a store compared with another one by a station that sees both. Raises ActRefused.

    left: None to compare with what the ledger knows to be on the right
    by_content: read everything, which may take hours; else names and sizes are compared
    """
    from ..tasks import compare_stores

    require(person, May.CHECK, *productions_of(left, right))
    if left == right:
        raise ActRefused("Say two stores to compare.")
    sides = [stores().get(pk=one.pk) for one in (left, right) if one]
    station = _station(sides)
    words = f"'{left.name}'" if left else "what the ledger knows of it"
    before = StoreComparison.objects.filter(left=left, right=right)
    if before.filter(_under_way(), finished_at=None).exists():
        raise ActRefused(f"'{right.name}' is being compared with {words} already.")
    before.delete()
    asked = StoreComparison.objects.create(
        left=left, right=right, station=station, person=person, asked_at=now(), by_content=by_content
    )
    how = "by content" if by_content else "by names and sizes"
    write_in_each(
        productions_of(left, right),
        "compare stores",
        right.name,
        f"'{right.name}' is to be compared with {words}, {how}.",
        person=person,
        origin=station.name,
    )
    changed(Topic.COMPARING)
    queue = readings_queue(station) if by_content else looks_queue(station)
    compare_stores.configure(queue=queue).defer(comparison_id=asked.pk)
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
