"""Stores on servers: reaching them, and which device they are."""

import socket
import threading
from contextlib import suppress

from cachetools import LRUCache

from ruggedraft.core.errors import StoreError, StoreVanished
from ruggedraft.core.stores.sftp import SftpAddress, SftpLine, SftpSecret, SftpStore, fingerprint_of

from .models import Store, StoreSecret
from .secrets import opened

_MOST_LINES = 64
_lines: LRUCache[tuple[SftpAddress, SftpSecret], SftpLine] = LRUCache(_MOST_LINES)
_lock = threading.Lock()


def line_to(address: SftpAddress, secret: SftpSecret) -> SftpLine:
    """A connection that all of a process share; it ends when nobody has it any more."""
    with _lock:
        if (address, secret) not in _lines:
            _lines[address, secret] = SftpLine(address, secret)
        return _lines[address, secret]


def address_of(store: Store) -> SftpAddress:
    return SftpAddress(**store.address)


def on_server(store: Store) -> SftpStore:
    """The store as it may be asked; nothing is sent yet. Raises StoreVanished where nothing opens its server."""
    kept = StoreSecret.objects.filter(store=store).first()
    if kept is None:
        raise StoreVanished(f"nobody gave a key or password for the server of '{store.name}'")
    address = address_of(store)
    secret = opened(bytes(kept.sealed), str(store.uuid), address, store.name)
    return SftpStore(store.name, line_to(address, secret), str(store.uuid), attests=store.attests)


def open_sftp(store: Store) -> SftpStore:
    """The store, if its server answers and it bears the store's mark. Raises StoreVanished with a sentence."""
    found = on_server(store)
    try:
        found.require()
    except StoreVanished:
        raise
    except StoreError as error:
        raise StoreVanished(f"'{store.name}' cannot be looked at: {error.sentence}") from error
    return found


def identities_of(address: SftpAddress) -> frozenset[str]:
    """A server is known by its name, its addresses and its host key: by whichever of them, it is one device.

    In the words that a share mounted from it has (`core.machine.devices`).
    """
    host = address.host.strip("[]").lower()
    found = {f"server {host}", f"host key {fingerprint_of(address.host_key)}"}
    with suppress(OSError):
        found |= {f"server {one[4][0]}" for one in socket.getaddrinfo(host, None, type=socket.SOCK_STREAM)}
    return frozenset(found)


def where(address: SftpAddress) -> str:
    """As a person reads it, without what opens it."""
    port = "" if address.port == 22 else f":{address.port}"
    return f"sftp://{address.user}@{address.host}{port}{address.folder}"
