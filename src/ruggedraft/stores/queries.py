"""What screens and verdicts read about stores."""

from django.db.models import Prefetch, QuerySet

from ruggedraft.core.redundancy import StoreFacts
from ruggedraft.kit.models import DeviceLoss, Station
from ruggedraft.kit.stations import is_running

from .devices import UNKNOWN
from .models import DeviceStatement, Store, StoreSighting


def stores() -> QuerySet[Store]:
    """All stores with everything `store_facts` needs, in five queries."""
    losses = Prefetch("device__losses", DeviceLoss.objects.order_by("id"), to_attr="all_losses")
    said = Prefetch("statements", DeviceStatement.objects.order_by("-id"), to_attr="all_statements")
    seen = Prefetch("sightings", StoreSighting.objects.select_related("station"), to_attr="all_sightings")
    return Store.objects.select_related("device__location").prefetch_related(losses, said, seen)


def sighting_of(store: Store, station: Station | None = None) -> StoreSighting | None:
    """What is known of whether a store (from `stores()`) is there: where any station sees it, the newest that does.

    station: only what this one sees, as for work that it is to do
    """
    mine = [one for one in store.all_sightings if station is None or one.station_id == station.pk]
    return max(mine, key=lambda one: (one.online, one.seen_at), default=None)


def station_that_sees(store: Store) -> Station | None:
    """A station for work with a store (from `stores()`) that it sees; better one whose worker is there."""
    seeing = [one for one in store.all_sightings if one.online]
    seeing.sort(key=lambda one: (is_running(one.station), one.seen_at), reverse=True)
    return seeing[0].station if seeing else None


def store_facts(store: Store, station: Station | None = None) -> StoreFacts:
    """A store (from `stores()`) as redundancy sees it. station: as this one sees it."""
    sighting = sighting_of(store, station)
    free = max(0, sighting.free - store.reserve) if sighting else 0
    lost = is_lost(store)
    return StoreFacts(
        name=store.name,
        devices=devices_of(store),
        location=store.device.location.name,
        medium=store.device.medium,
        offsite=store.device.location.offsite,
        counts=store.counts,
        lost=lost,
        online=bool(sighting and sighting.online) and not lost,
        free=free,
    )


def devices_of(store: Store) -> frozenset[str]:
    """What the store stands on. What the machine cannot tell is one device, unless a supervisor states otherwise."""
    found = set(store.identities) or {UNKNOWN}
    if UNKNOWN in found and store.all_statements:
        found = found - {UNKNOWN} | {f"stated {store.all_statements[0].stands_on}"}
    return frozenset(found | {f"device {store.device_id}"})


def is_lost(store: Store) -> bool:
    return any(loss.found_at is None for loss in store.device.all_losses)


def lost_names() -> set[str]:
    """Stores on devices that were reported lost and not found since."""
    return {store.name for store in stores() if is_lost(store)}


def found_after(store: Store) -> int:
    """The last evidence that was noted when the store's device was last found again; 0 where it was never lost."""
    return max((loss.found_after for loss in store.device.all_losses), default=0)
