"""Stores as columns and choices."""

from collections.abc import Container, Mapping
from datetime import datetime

from pydantic import BaseModel

from ruggedraft.core.machine.devices import UNKNOWN
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.stores.port import UNBOUNDED
from ruggedraft.core.stores.sftp import fingerprint_of
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import backed_up_at, carrier_of, devices_of, sighting_of, store_facts, trouble_with
from ruggedraft.stores.volumes import Volume, medium_of, speaks_against


class StoreColumn(BaseModel):
    name: str
    device: str
    location: str
    medium: str
    offsite: bool
    online: bool
    lost: bool
    counts: bool
    free: int
    total: int

    @staticmethod
    def of(store: Store) -> "StoreColumn":
        """store: from `stores.queries.stores()`"""
        facts, sighting = store_facts(store), sighting_of(store)
        return StoreColumn(
            name=store.name,
            device=store.device.name,
            location=facts.location,
            medium=facts.medium,
            offsite=facts.offsite,
            online=facts.online,
            lost=facts.lost,
            counts=facts.counts,
            free=facts.free,
            total=sighting.total if sighting else 0,
        )


class StoreOut(StoreColumn):
    """path: where it was last seen. devices: what it stands on, as identities.

    doubtful: the machine cannot tell what it stands on, and nobody has said it
    carried_by: user name of whoever has it, else empty; carrier: what they are called, of the crew or not
    carried_since, carry_note: when that was said, and what was said with it
    keeps_backups: the ledger is backed up there, last at `backed_up_at`
    unbounded: it knows of no end
    kind: how it is reached; server: it is on a server. attests: that computes checksums itself
    host_key: its fingerprint, of one that has such
    trouble: why it cannot be used now, as the station that looked last said it
    """

    path: str
    unbounded: bool
    kind: StoreKind
    server: bool
    attests: bool
    host_key: str
    trouble: str
    devices: list[str]
    doubtful: bool
    system_disk_reason: str
    landing: bool
    seals: bool
    retired: bool
    carried_by: str
    carrier: str
    carried_since: datetime | None
    carry_note: str
    keeps_backups: bool
    backed_up_at: datetime | None

    @staticmethod
    def of(store: Store) -> "StoreOut":
        """store: from `stores.queries.stores()`"""
        devices, carrier, sighting = devices_of(store), carrier_of(store), sighting_of(store)
        return StoreOut(
            **StoreColumn.of(store).model_dump(), path=store.path,
            devices=sorted(one for one in devices if not one.startswith("device ")), doubtful=UNKNOWN in devices,
            system_disk_reason=store.system_disk_reason, landing=store.landing,
            seals=store.seals, retired=store.retired_at is not None,
            carried_by=carrier.username if carrier else "", carrier=carrier.name if carrier else "",
            carried_since=carrier.since if carrier else None, carry_note=carrier.note if carrier else "",
            unbounded=sighting is not None and sighting.total >= UNBOUNDED,
            kind=StoreKind(store.kind), server=not store.is_local, attests=store.attests,
            host_key=fingerprint_of(store.address["host_key"]) if "host_key" in store.address else "",
            trouble=trouble_with(store), keeps_backups=store.keeps_backups, backed_up_at=backed_up_at(store),
        )  # fmt: skip


class VolumeOut(BaseModel):
    """against: sentences, gravest first. usable: it can be taken as it is. store: the name of the store that it is.

    stored: it is marked as a store, of this ledger or another. card: somebody said that it is a card in a reader
    own_disk: it is this computer's own. station: on whose machine; empty: on the server's
    """

    station: str
    path: str
    label: str
    file_system: str
    free: int
    total: int
    against: list[str]
    usable: bool
    stored: bool
    store: str
    card: bool
    own_disk: bool
    medium: str

    @classmethod
    def of(
        cls, volume: Volume, known: Mapping[str, str] = {}, cards: Container[str] = (), station: str = ""
    ) -> "VolumeOut":
        """known: names of stores by their uuid. cards: paths of what was said to be a card"""
        return cls(
            station=station, path=volume.path, label=volume.label or volume.path.rpartition("/")[2] or volume.path,
            file_system=volume.file_system, free=volume.free, total=volume.total, against=speaks_against(volume),
            usable=volume.usable and volume.path not in cards, stored=bool(volume.marked), medium=medium_of(volume),
            store=known.get(volume.marked, ""), card=volume.path in cards, own_disk=volume.system_disk,
        )  # fmt: skip


class ReaderIn(BaseModel):
    """path: where it is mounted. station: on whose machine; empty: on the server's"""

    path: str
    is_reader: bool
    station: str = ""


class StoreIn(BaseModel):
    """path: a mounted volume, or a folder of one. reason: why it may be on the computer's own disk; it never counts

    station: on whose machine; empty: on the server's
    take_over: it is marked as a store of another ledger, and becomes one of this
    """

    station: str = ""
    take_over: bool = False
    path: str
    name: str
    medium: str
    place: str
    reason: str = ""


class StoreChangeIn(BaseModel):
    """landing: nothing there counts. seals: what is verified there is made read-only"""

    name: str
    landing: bool
    seals: bool


class PlaceIn(BaseModel):
    place: str
    offsite: bool


class CarrierIn(BaseModel):
    """username: of the crew. outside: the name of somebody else. Neither: nobody carries it

    place: where it is with them, of those that are known; empty: where it was
    """

    username: str = ""
    outside: str = ""
    place: str = ""
    note: str = ""


class BackupsIn(BaseModel):
    on: bool


class SharedIn(BaseModel):
    """production: by its name in addresses"""

    production: str


class LossIn(BaseModel):
    reason: str


class StandsOnIn(BaseModel):
    """stands_on: a name for the physical thing; stores with one name are one device."""

    stands_on: str
    reason: str
