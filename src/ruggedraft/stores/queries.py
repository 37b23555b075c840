"""What screens and verdicts read about stores."""

from django.db.models import Prefetch, QuerySet

from ruggedraft.core.redundancy import StoreFacts

from .models import DeviceLoss, Store


def stores() -> QuerySet[Store]:
    """All stores with everything `store_facts` needs, in two queries."""
    losses = Prefetch("device__losses", DeviceLoss.objects.filter(found_at=None), to_attr="open_losses")
    return Store.objects.select_related("device__location", "sighting").prefetch_related(losses)


def store_facts(store: Store) -> StoreFacts:
    """A store (from `stores()`) as redundancy sees it. Two stores of one device share its identity."""
    sighting = getattr(store, "sighting", None)
    free = max(0, sighting.free - store.reserve) if sighting else 0
    return StoreFacts(
        name=store.name,
        device=store.device.identity,
        location=store.device.location.name,
        medium=store.device.medium,
        offsite=store.device.location.offsite,
        counts=store.counts,
        lost=bool(store.device.open_losses),
        online=bool(sighting and sighting.online),
        free=free,
    )
