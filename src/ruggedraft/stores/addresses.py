"""Where stores on servers are: what each kind is reached by, in one place."""

import socket
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import BUCKET, EXT
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret
from ruggedraft.core.stores.sftp import SftpAddress, SftpSecret, fingerprint_of

Address = SftpAddress | ObjectsAddress
Secret = SftpSecret | ObjectsSecret


@dataclass(frozen=True)
class _Kind:
    """address, secret: made from the fields that the ledger keeps. file_system: what names it can hold"""

    address: Callable[..., Address]
    secret: Callable[..., Secret]
    file_system: str


KINDS: Mapping[StoreKind, _Kind] = {
    StoreKind.SFTP: _Kind(SftpAddress, SftpSecret, EXT.name),
    StoreKind.OBJECTS: _Kind(ObjectsAddress, ObjectsSecret, BUCKET.name),
}


def address_from(kind: str, fields: Mapping[str, Any]) -> Address:
    """As the ledger keeps it."""
    return KINDS[StoreKind(kind)].address(**fields)


def kind_of(address: Address) -> StoreKind:
    return StoreKind.SFTP if isinstance(address, SftpAddress) else StoreKind.OBJECTS


def where(address: Address) -> str:
    """As a person reads it, without what opens it."""
    if isinstance(address, ObjectsAddress):
        return f"{address.endpoint}/{address.bucket}" + (f"/{address.prefix}" if address.prefix else "")
    port = "" if address.port == 22 else f":{address.port}"
    return f"sftp://{address.user}@{address.host}{port}{address.folder}"


def identities_of(address: Address) -> frozenset[str]:
    """A server is known by its name, its addresses and its host key: by whichever of them, it is one device.

    In the words that a share mounted from it has (`core.machine.devices`).
    """
    host = _host_of(address)
    found = {f"server {host}"}
    if isinstance(address, SftpAddress):
        found.add(f"host key {fingerprint_of(address.host_key)}")
    with suppress(OSError):
        found |= {f"server {one[4][0]}" for one in socket.getaddrinfo(host, None, type=socket.SOCK_STREAM)}
    return frozenset(found)


def _host_of(address: Address) -> str:
    host = address.host if isinstance(address, SftpAddress) else urlsplit(address.endpoint).hostname or ""
    return host.strip("[]").lower()


def checked(address: Address) -> Address:
    """As it is kept. Raises ActRefused for one that cannot be."""
    return _checked_bucket(address) if isinstance(address, ObjectsAddress) else _checked_folder(address)


def _checked_bucket(address: ObjectsAddress) -> ObjectsAddress:
    endpoint, prefix = address.endpoint.strip().rstrip("/"), address.prefix.strip().strip("/")
    there = urlsplit(endpoint)
    if there.scheme not in ("http", "https") or not there.hostname or there.path or there.username:
        raise ActRefused("Give the address of the object storage, such as https://storage.example.")
    if not address.bucket.strip() or "/" in address.bucket or ".." in prefix.split("/"):
        raise ActRefused("A store is a bucket, or what lies in it beneath a prefix.")
    return ObjectsAddress(endpoint, address.region.strip() or "us-east-1", address.bucket.strip(), prefix)


def _checked_folder(address: SftpAddress) -> SftpAddress:
    folder = address.folder.rstrip("/")
    if not folder.startswith("/") or ".." in folder.split("/"):
        raise ActRefused("Give the whole path of a folder on the server, such as /srv/rolls.")
    if not address.host.strip() or not address.user.strip() or not 0 < address.port < 65536:
        raise ActRefused("A server is reached by its name or address, a port and a user.")
    try:
        fingerprint_of(address.host_key)
    except ValueError as error:
        raise ActRefused("Ask the server for its host key, and compare it, before copies go there.") from error
    return SftpAddress(address.host.strip().lower(), address.port, address.user.strip(), folder, address.host_key)
