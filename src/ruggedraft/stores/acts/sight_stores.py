from pathlib import Path
from typing import Any

from ruggedraft.core.errors import StoreError
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Store, StoreSighting
from ..opening import open_store
from ..probe import device_probe

_NEWS = 0.0005
"""Share of a store's size by which its free room must have changed to be news."""


def sight_stores(station: Station) -> None:
    """Look for every store from a station, and note what it sees. Tells screens only what really changed.

    Another station's view of a store is its own: a drive that is not here may well be there.
    """
    noted = {one.store_id: one for one in StoreSighting.objects.filter(station=station)}
    for store in Store.objects.select_related("device"):
        before = noted.get(store.pk)
        seen = _sight(store)
        StoreSighting.objects.update_or_create(store=store, station=station, defaults={**seen, "seen_at": now()})
        if before is None or _tells_something_new(before, seen):
            changed(Topic.STORES)


def _note_what_it_is(store: Store) -> None:
    """Its file system, and what it stands on now: a disk of an array may have been replaced."""
    probe, folder = device_probe(), Path(store.path)
    found = {"file_system": probe.file_system(folder), "identities": sorted(probe.under(folder))}
    if any(getattr(store, name) != value for name, value in found.items()):
        Store.objects.filter(pk=store.pk).update(**found)
        changed(Topic.STORES)


def _tells_something_new(before: StoreSighting, seen: dict[str, Any]) -> bool:
    """A few bytes more or less on a busy disk are no reason to redraw every screen."""
    if (before.online, before.trouble) != (seen["online"], seen["trouble"]):
        return True
    return bool(abs(before.free - int(seen.get("free", before.free))) > _NEWS * max(before.total, 1))


def _sight(store: Store) -> dict[str, Any]:
    try:
        open_store(store)
        room = device_probe().room(Path(store.path))
        _note_what_it_is(store)
    except (StoreError, OSError) as error:
        return {"online": False, "trouble": str(error)[:300]}
    return {"online": True, "trouble": "", "free": room.free, "total": room.total}
