from pathlib import Path

from ruggedraft.core.errors import StoreError
from ruggedraft.journal.clock import now
from ruggedraft.live.notify import changed

from ..models import Store, StoreSighting
from ..probe import device_probe, open_store

_NEWS = 0.0005
"""Share of a store's size by which its free room must have changed to be news."""


def sight_stores() -> None:
    """Look for every store from this station, and note what is seen. Tells screens only what really changed."""
    for store in Store.objects.select_related("device", "sighting"):
        before = getattr(store, "sighting", None)
        seen = _sight(store)
        StoreSighting.objects.update_or_create(store=store, defaults={**seen, "seen_at": now()})
        if before is None or _tells_something_new(before, seen):
            changed("stores")


def _note_file_system(store: Store) -> None:
    found = device_probe().file_system(Path(store.path))
    if found != store.file_system:
        Store.objects.filter(pk=store.pk).update(file_system=found)


def _tells_something_new(before: StoreSighting, seen: dict[str, object]) -> bool:
    """A few bytes more or less on a busy disk are no reason to redraw every screen."""
    if (before.online, before.trouble) != (seen["online"], seen["trouble"]):
        return True
    return abs(before.free - int(seen.get("free", before.free))) > _NEWS * max(before.total, 1)


def _sight(store: Store) -> dict[str, object]:
    try:
        open_store(store.name, store.path, str(store.uuid), store.device.identity)
        room = device_probe().room(Path(store.path))
        _note_file_system(store)
    except (StoreError, OSError) as error:
        return {"online": False, "trouble": str(error)[:300]}
    return {"online": True, "trouble": "", "free": room.free, "total": room.total}
