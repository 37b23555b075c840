"""Where stores on servers are: what each kind is reached by, in one place."""

import socket
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from ipaddress import ip_address
from typing import Any
from urllib.parse import urlsplit

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import BUCKET, EXT, WEBDAV
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret
from ruggedraft.core.stores.sftp import SftpAddress, SftpSecret, fingerprint_of
from ruggedraft.core.stores.webdav import WebdavAddress, WebdavSecret

Address = SftpAddress | ObjectsAddress | WebdavAddress
Secret = SftpSecret | ObjectsSecret | WebdavSecret


@dataclass(frozen=True)
class _Kind:
    """address, secret: made from the fields that the ledger keeps. file_system: what names it can hold

    host: of an address. where: as a person reads it, without what opens it. checked: as it is kept, or ActRefused
    """

    address: type[Any]
    secret: type[Any]
    file_system: str
    host: Callable[[Any], str]
    where: Callable[[Any], str]
    checked: Callable[[Any], Address]


def address_from(kind: str, fields: Mapping[str, Any]) -> Address:
    """As the ledger keeps it."""
    made: Address = KINDS[StoreKind(kind)].address(**fields)
    return made


def kind_of(address: Address) -> StoreKind:
    return next(kind for kind, of in KINDS.items() if isinstance(address, of.address))


def where(address: Address) -> str:
    """As a person reads it, without what opens it."""
    return KINDS[kind_of(address)].where(address)


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
    return KINDS[kind_of(address)].host(address).strip("[]").lower()


def checked(address: Address) -> Address:
    """As it is kept. Raises ActRefused for one that cannot be."""
    return KINDS[kind_of(address)].checked(address)


def _where_bucket(address: ObjectsAddress) -> str:
    return f"{address.endpoint}/{address.bucket}" + (f"/{address.prefix}" if address.prefix else "")


def _where_folder(address: SftpAddress) -> str:
    port = "" if address.port == 22 else f":{address.port}"
    return f"sftp://{address.user}@{address.host}{port}{address.folder}"


def _host_in(url: str) -> str:
    return urlsplit(url).hostname or ""


def _checked_url(address: WebdavAddress) -> WebdavAddress:
    url = address.url.strip().rstrip("/")
    there = urlsplit(url)
    if there.scheme not in ("http", "https") or not there.hostname or there.username or there.query or there.fragment:
        raise ActRefused("Give the address of a folder of the server, such as https://files.example/dav/rolls.")
    if ".." in there.path.split("/"):
        raise ActRefused("The address of a folder has no '..' in it.")
    if there.scheme == "http" and not _is_here(there.hostname):
        raise ActRefused("Its password would go over the network for all to read: use an address with https.")
    return WebdavAddress(url)


def _is_here(host: str) -> bool:
    """Whether it is this machine's loopback, by its address."""
    with suppress(ValueError):
        return ip_address(host).is_loopback
    return host == "localhost"


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


KINDS: Mapping[StoreKind, _Kind] = {
    StoreKind.SFTP: _Kind(
        SftpAddress, SftpSecret, EXT.name, lambda one: str(one.host), _where_folder, _checked_folder
    ),
    StoreKind.OBJECTS: _Kind(
        ObjectsAddress, ObjectsSecret, BUCKET.name, lambda one: _host_in(one.endpoint), _where_bucket, _checked_bucket
    ),
    StoreKind.WEBDAV: _Kind(
        WebdavAddress, WebdavSecret, WEBDAV.name, lambda one: _host_in(one.url), lambda one: str(one.url), _checked_url
    ),
}  # fmt: skip
