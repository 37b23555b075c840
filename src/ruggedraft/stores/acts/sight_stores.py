from pathlib import Path

from ruggedraft.core.errors import StoreError
from ruggedraft.journal.clock import now
from ruggedraft.live.notify import changed

from ..models import Store, StoreSighting
from ..probe import device_probe, open_store


def sight_stores() -> None:
    """Look for every store from this station, and note what is seen. Tells screens only what really changed."""
    for store in Store.objects.select_related("device", "sighting"):
        before = getattr(store, "sighting", None)
        seen = _sight(store)
        StoreSighting.objects.update_or_create(store=store, defaults={**seen, "seen_at": now()})
        if before is None or any(getattr(before, key) != value for key, value in seen.items()):
            changed("stores")


def _sight(store: Store) -> dict[str, object]:
    try:
        open_store(store.name, store.path, str(store.uuid), store.device.identity)
        room = device_probe().room(Path(store.path))
    except (StoreError, OSError) as error:
        return {"online": False, "trouble": str(error)[:300]}
    return {"online": True, "trouble": "", "free": room.free, "total": room.total}
