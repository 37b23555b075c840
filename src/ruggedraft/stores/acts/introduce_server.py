from dataclasses import asdict

from django.db import transaction

from ruggedraft.core.errors import ActRefused, FileMissing, StoreError
from ruggedraft.core.stores import StoreKind, write_one
from ruggedraft.core.stores.remote import MARK, RemoteStore
from ruggedraft.core.stores.sftp import SftpAddress, fingerprint_of
from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Device, Location
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..addresses import Address, Secret, checked, identities_of, kind_of, where
from ..models import DeviceStatement, Store, StoreSecret
from ..secrets import sealed
from ..servers import reached
from .introduce_store import checked_name, device_under, new_device

_MOST_MARK = 100  # bytes


def introduce_server(
    person: Person,
    production: int,
    *,
    name: str,
    address: Address,
    secret: Secret,
    device_name: str,
    medium: str,
    location: Location,
    reason: str,
    attests: bool = False,
    reserve: int = 0,
) -> Store:
    """Take a folder of a server, or a bucket, as a store that a production (id) uses.

    Somebody has looked at a host key, which is pinned.

    device_name, reason: what the server is, and how they know where it stands. A second store of a known server joins
    its device. Raises ActRefused, also where the server does not answer, or the folder is a store already.
    """
    require(person, May.KEEP_STORES, production)
    address, name = checked(address), checked_name(name)
    if not one_line(reason):
        raise ActRefused("Say what this server is, and how you know where it stands.")
    if attests and kind_of(address) is StoreKind.WEBDAV:
        raise ActRefused("A WebDAV server knows no checksums: what is written there is read back.")
    there = reached(name, address, secret)
    _require_room_for_a_mark(there, address)
    with transaction.atomic():
        store = _introduced(person, name, address, secret, device_name, medium, location, attests, reserve)
        store.productions.set([production])
        said = DeviceStatement.objects.create(
            store=store, stands_on=store.device.name, person=person, at=now(), reason=one_line(reason)[:300]
        )
        write(
            "introduce store", name,
            f"Store '{name}' was introduced: {store.path} on device '{store.device.name}', {said.reason}."
            + _pinned(address),
            person=person, production=production, detail={"identities": store.identities},
        )  # fmt: skip
        changed(Topic.STORES, Topic.SETUP)
        _mark(there, store)  # last: whatever is refused before has written nothing
    return store


def _pinned(address: Address) -> str:
    if not isinstance(address, SftpAddress):
        return ""
    return f" Its server's host key is {fingerprint_of(address.host_key)}."


def _require_room_for_a_mark(there: RemoteStore, address: Address) -> None:
    try:
        there.room()
        marked = there.read_whole(MARK, _MOST_MARK)
    except FileMissing as error:
        raise ActRefused(f"There is no {where(address)}: nothing was changed.") from error
    except StoreError as error:
        raise ActRefused(f"{where(address)} cannot be used as a store: {error.sentence}.") from error
    if marked is not None:
        raise ActRefused(f"{where(address)} is already marked as a store of this or another ledger.")


def _introduced(
    person: Person, name: str, address: Address, secret: Secret, device_name: str, medium: str,
    location: Location, attests: bool, reserve: int,
) -> Store:  # fmt: skip
    identities = identities_of(address)
    device: Device = device_under(identities) or new_device(device_name, medium, location)
    store = Store.objects.create(
        kind=kind_of(address).value, name=name, device=device, identities=sorted(identities), path=where(address),
        address=asdict(address), attests=attests, reserve=reserve, position=Store.objects.count(),
    )  # fmt: skip
    StoreSecret.objects.create(
        store=store, sealed=sealed(secret, str(store.uuid), address), given_by=person, given_at=now()
    )
    return store


def _mark(there: RemoteStore, store: Store) -> None:
    try:
        there.open()
        try:
            write_one(there, MARK, str(store.uuid).encode(), int(now().timestamp()) * 10**9)
        finally:
            there.close()
    except StoreError as error:
        raise ActRefused(f"{store.path} cannot be written: {error.sentence}.") from error
