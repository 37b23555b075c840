"""What each store holds by day and camera, and how long its room lasts if the production goes on as it did."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from itertools import groupby
from operator import attrgetter

from ruggedraft.core.foresight import Foreseen, foresee
from ruggedraft.core.stores.port import UNBOUNDED
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sighting_of, store_facts

from .held import held_copies


@dataclass(frozen=True)
class HeldOfDay:
    """What was shot on a day with a camera, and is on a store. bytes: that its copies are known to hold."""

    day: date
    camera: str
    bytes: int
    rolls: int


@dataclass(frozen=True)
class StoreRoom:
    """held: oldest day first. foreseen: None where nothing can be said"""

    store: Store
    held: tuple[HeldOfDay, ...] = field(default=())
    foreseen: Foreseen | None = None


_OF_DAY = attrgetter("store", "day", "camera")


def room_of_stores(production: Production, places: Mapping[int, Store]) -> list[StoreRoom]:
    """Of every store, whatever productions are on it; days are told by this one's clock.

    places: from `summaries.places_of_all`
    """
    held: dict[int, list[HeldOfDay]] = {}
    for (store, day, camera), copies in groupby(sorted(held_copies(places), key=_OF_DAY), key=_OF_DAY):
        sizes = [one.bytes for one in copies if one.files]
        if sizes:
            held.setdefault(store, []).append(HeldOfDay(day, camera, sum(sizes), len(sizes)))
    today = production.shoot_day(now())
    return [_room(store, held.get(pk, []), today) for pk, store in places.items()]


def _room(store: Store, held: Iterable[HeldOfDay], today: date) -> StoreRoom:
    held = tuple(held)
    sighting, facts = sighting_of(store), store_facts(store)
    if facts.lost or sighting is None or sighting.total >= UNBOUNDED:
        return StoreRoom(store, held)
    by_day: dict[date, int] = {}
    for one in held:
        by_day[one.day] = by_day.get(one.day, 0) + one.bytes
    sizes = [one.bytes // one.rolls for one in reversed(held) for _ in range(one.rolls)]
    return StoreRoom(store, held, foresee(facts.free, by_day, sizes, today))
