"""What screens and verdicts read about stores."""

from django.db.models import Prefetch, QuerySet

from ruggedraft.core.redundancy import StoreFacts

from .devices import UNKNOWN
from .models import DeviceLoss, DeviceStatement, Store


def stores() -> QuerySet[Store]:
    """All stores with everything `store_facts` needs, in four queries."""
    losses = Prefetch("device__losses", DeviceLoss.objects.order_by("id"), to_attr="all_losses")
    said = Prefetch("statements", DeviceStatement.objects.order_by("-id"), to_attr="all_statements")
    return Store.objects.select_related("device__location", "sighting").prefetch_related(losses, said)


def store_facts(store: Store) -> StoreFacts:
    """A store (from `stores()`) as redundancy sees it."""
    sighting = getattr(store, "sighting", None)
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
