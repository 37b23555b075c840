from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ruggedraft.core.apart import Apart, NotAnswering
from ruggedraft.core.errors import StoreError
from ruggedraft.core.naming import EXT
from ruggedraft.core.stores import Room, StoreKind
from ruggedraft.core.stores.remote import RemoteStore
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..addresses import KINDS, identities_of, kind_of
from ..folders import folder_of
from ..models import Store, StoreSighting
from ..probe import device_probe
from ..servers import address_of, on_server

_PATIENCE_S = 5.0
_apart = Apart()
_NEWS = 0.0005
"""Share of a store's size by which its free room must have changed to be news."""


def sight_stores(station: Station) -> None:
    """Look for every store from a station, and note what it sees. Tells screens only what really changed.

    Another station's view of a store is its own: a drive that is not here may well be there.
    """
    sightings = list(StoreSighting.objects.all())
    noted = {one.store_id: one for one in sightings if one.station_id == station.pk}
    elsewhere = {one.store_id for one in sightings if one.station_id != station.pk and one.online}
    as_before = []
    for store in Store.objects.select_related("device"):
        before = noted.get(store.pk)
        seen = _sight(store, seen_elsewhere=store.pk in elsewhere)
        kept = {"free": before.free, "total": before.total} if before else {}
        row = StoreSighting(store=store, station=station, seen_at=now(), **{**kept, **seen})
        if before is None or _tells_something_new(before, seen):
            _keep([row])  # at once: the next one may take long to answer
            changed(Topic.STORES)
        else:
            as_before.append(row)
    _keep(as_before)


def _keep(rows: list[StoreSighting]) -> None:
    """In one statement."""
    told = ["seen_at", "online", "trouble", "free", "total"]
    StoreSighting.objects.bulk_create(
        rows, update_conflicts=True, unique_fields=["store", "station"], update_fields=told
    )  # fmt: skip


@dataclass(frozen=True)
class _Seen:
    """What one look at a store gave; no table is written for it."""

    room: Room
    facts: dict[str, Any]


def _look_at_server(store: Store, there: RemoteStore) -> _Seen:
    """Its room; and by what it is known, which is never less than before: a name that cannot be looked up just now must
    not make two of one server.
    """
    there.require()
    address = address_of(store)
    known = identities_of(address) | set(store.identities)
    facts = {"identities": sorted(known), "file_system": KINDS[kind_of(address)].file_system}
    return _Seen(there.room(), facts)


def _look_at_folder(store: Store) -> _Seen:
    """Its place and room, its file system, and what it stands on now: a disk of an array may have been replaced."""
    probe, folder = device_probe(), folder_of(store)
    kind = EXT.name if store.kind == StoreKind.PACKAGES else probe.file_system(folder)  # an archive holds any name
    facts = {"file_system": kind, "identities": sorted(probe.under(folder)), "path": str(folder)}
    return _Seen(probe.room(folder), facts)


def _looking_at(store: Store) -> Callable[[], _Seen]:
    """What is done apart reads no table. Raises StoreVanished where nothing opens a server."""
    if store.is_local:
        return lambda: _look_at_folder(store)
    there = on_server(store)
    return lambda: _look_at_server(store, there)


def _note_what_it_is(store: Store, found: dict[str, Any]) -> None:
    if any(getattr(store, name) != value for name, value in found.items()):
        Store.objects.filter(pk=store.pk).update(**found)
        changed(Topic.STORES)


def _tells_something_new(before: StoreSighting, seen: dict[str, Any]) -> bool:
    """A few bytes more or less on a busy disk are no reason to redraw every screen."""
    if (before.online, before.trouble) != (seen["online"], seen["trouble"]):
        return True
    return bool(abs(before.free - int(seen.get("free", before.free))) > _NEWS * max(before.total, 1))


def _sight(store: Store, *, seen_elsewhere: bool) -> dict[str, Any]:
    """Apart: a drive that hangs is said to hang, and the others are looked at all the same.

    seen_elsewhere: another station sees it too, as a share of a server; where it is there stays as it was noted
    """
    try:
        seen = _apart.ask(store.pk, _looking_at(store), _PATIENCE_S)
    except NotAnswering:
        return {"online": False, "trouble": f"'{store.name}' does not answer: look at its plug and its lights"}
    except (StoreError, OSError) as error:
        return {"online": False, "trouble": str(error)[:300]}
    _note_what_it_is(store, {name: fact for name, fact in seen.facts.items() if name != "path" or not seen_elsewhere})
    return {"online": True, "trouble": "", "free": seen.room.free, "total": seen.room.total}
