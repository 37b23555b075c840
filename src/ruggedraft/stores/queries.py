"""What screens and verdicts read about stores."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Exists, OuterRef, QuerySet, Subquery
from django.db.models.functions import JSONArray, JSONObject

from ruggedraft.core.errors import NotThere
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.machine.devices import UNKNOWN
from ruggedraft.core.redundancy import StoreFacts
from ruggedraft.crew.models import shown_name
from ruggedraft.kit.models import Custody, DeviceLoss, Station
from ruggedraft.kit.stations import is_running

from .models import DeviceStatement, LedgerBackup, Store, StoreSighting


@dataclass(frozen=True)
class Sighting:
    """What one station saw of a store the last time it looked. free, total: bytes. trouble: why it is not usable"""

    station: int
    seen_at: datetime
    online: bool
    free: int
    total: int
    trouble: str


def stores() -> QuerySet[Store]:
    """All stores with everything that the functions below need, in one query."""
    losses = DeviceLoss.objects.filter(device=OuterRef("device"))
    said = DeviceStatement.objects.filter(store=OuterRef("pk")).order_by("-id")
    columns = {"station": "station_id", "seen_at": "seen_at", "online": "online", "free": "free", "total": "total",
               "trouble": "trouble"}  # fmt: skip
    backups = LedgerBackup.objects.filter(store=OuterRef("pk"))
    seen = StoreSighting.objects.filter(store=OuterRef("pk"))
    given = Custody.objects.filter(device=OuterRef("device")).order_by("-id")
    names = ("holder__username", "holder__first_name", "holder__last_name", "outside", "note", "at")
    return Store.objects.select_related("device__location").annotate(
        carried=Subquery(given.values(facts=JSONArray(*names))[:1]),
        reported_lost=Exists(losses.filter(found_at=None)),
        last_found_after=Subquery(losses.order_by("-found_after").values("found_after")[:1]),
        stated=Subquery(said.values("stands_on")[:1]),
        last_backup=Subquery(backups.order_by("-at").values("at")[:1]),
        seen=ArraySubquery(seen.values(facts=JSONObject(**columns))),
        used_in=ArraySubquery(Store.productions.through.objects.filter(store=OuterRef("pk")).values("production_id")),
    )


def sightings_of(store: Store) -> list[Sighting]:
    """Of a store from `stores()`: one for each station that ever looked for it."""
    rows: Iterable[dict[str, Any]] = getattr(store, "seen", ())
    return [Sighting(**row | {"seen_at": _moment(row["seen_at"])}) for row in rows]


def _moment(words: str) -> datetime:
    """A time as PostgreSQL writes it into JSON."""
    return datetime.fromisoformat(words).astimezone(UTC)


def backed_up_at(store: Store) -> datetime | None:
    """When the ledger was last backed up to a store (from `stores()`)."""
    at: datetime | None = getattr(store, "last_backup", None)
    return at and at.astimezone(UTC)


@dataclass(frozen=True)
class Carrier:
    """Who has a device, and since when. username: empty for somebody who has no account. note: what was said with it"""

    username: str
    name: str
    note: str
    since: datetime


def carrier_of(store: Store) -> Carrier | None:
    """Of the device under a store from `stores()`."""
    username, first, last, outside, note, at = getattr(store, "carried", None) or (None, "", "", "", "", "")
    if not username and not outside:
        return None
    name = shown_name(username, first, last) if username else outside
    return Carrier(username or "", name, note, _moment(at))


def sighting_of(store: Store, station: Station | None = None) -> Sighting | None:
    """What is known of whether a store (from `stores()`) is there: where any station sees it, the newest that does.

    station: only what this one sees, as for work that it is to do
    """
    mine = [one for one in sightings_of(store) if station is None or one.station == station.pk]
    return max(mine, key=lambda one: (one.online, one.seen_at), default=None)


def trouble_with(store: Store) -> str:
    """Why nobody can use a store (from `stores()`) now, as the station said that looked last; empty where one can."""
    seen = sightings_of(store)
    last = max(seen, key=lambda one: one.seen_at, default=None)
    return last.trouble if last and not any(one.online for one in seen) else ""


def station_that_sees(store: Store) -> Station | None:
    """A station for work with a store (from `stores()`) that it sees; better one whose worker is there."""
    seeing = {one.station: one for one in sightings_of(store) if one.online}
    stations = Station.objects.filter(pk__in=seeing)
    return max(stations, key=lambda one: (is_running(one), seeing[one.pk].seen_at), default=None)


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
        proves=Evidence.ATTESTED if store.attests else Evidence.READ_BACK,
        landing=store.landing,
        retired=store.retired_at is not None,
    )


def devices_of(store: Store) -> frozenset[str]:
    """What a store (from `stores()`) stands on.

    What the machine cannot tell is one device, unless a supervisor states otherwise. Of a server they may state what it
    stands on besides: two that stand on one thing are one device.
    """
    found, stated = set(store.identities) or {UNKNOWN}, getattr(store, "stated", None)
    if not store.is_local and stated:
        found.add(f"stated {stated}")
    if UNKNOWN in found and stated:
        found = found - {UNKNOWN} | {f"stated {stated}"}
    return frozenset(found | {f"device {store.device_id}"})


def is_lost(store: Store) -> bool:
    """Whether the device of a store (from `stores()`) was reported lost and not found since."""
    return bool(getattr(store, "reported_lost"))  # noqa: B009  annotated by `stores()`


def lost_meanwhile(store: Store) -> str:
    """Why what was found on a store counts for nothing although it was read: its device was reported lost. Or empty."""
    return f"'{store.name}' was reported lost meanwhile" if is_lost(stores().get(pk=store.pk)) else ""


def lost_names() -> set[str]:
    """Stores on devices that were reported lost and not found since."""
    return {store.name for store in stores() if is_lost(store)}


def found_after(store: Store) -> int:
    """The last evidence noted when the device of a store (from `stores()`) was last found again; 0 if never."""
    return getattr(store, "last_found_after", None) or 0


def store_named(name: str) -> Store:
    """With its device. Raises NotThere."""
    return _named(stores(), name)


def stores_in(production: int) -> QuerySet[Store]:
    """As `stores()`, those that a production (id) uses."""
    return stores().filter(productions=production)


def store_in(production: int, name: str) -> Store:
    """A store (from `stores()`) that a production (id) uses. Raises NotThere."""
    return _named(stores_in(production), name)


def is_used_in(store: Store, production: int) -> bool:
    """Of a store from `stores()`, whether a production (id) uses it."""
    return production in getattr(store, "used_in", ())


def _named(among: QuerySet[Store], name: str) -> Store:
    found = among.filter(name=name).first()
    if found is None:
        raise NotThere(f"There is no store '{name}'.")
    return found


def productions_of(*shared: Store | None) -> list[int]:
    """Ids of the productions that use these stores: what is said of one is said to all of them."""
    through = Store.productions.through.objects
    rows = through.filter(store__in=[store.pk for store in shared if store]).values_list("production_id", flat=True)
    return sorted(set(rows))
