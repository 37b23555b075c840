"""Reaching stores that are on servers."""

import contextlib
import threading
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TypeVar

from cachetools import LRUCache
from django.conf import settings

from ruggedraft.core.errors import StoreError, StoreVanished
from ruggedraft.core.stores import LocalStore, StoreKind
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret, ObjectsStore, objects_client
from ruggedraft.core.stores.remote import RemoteStore
from ruggedraft.core.stores.sftp import SftpAddress, SftpLine, SftpSecret, SftpStore
from ruggedraft.core.stores.webdav import WebdavAddress, WebdavLine, WebdavSecret, WebdavStore

from .addresses import KINDS, Address, Secret, address_from
from .models import Store, StoreSecret
from .secrets import opened

_MOST_LINES = 64
_lines: LRUCache[tuple[object, object], object] = LRUCache(_MOST_LINES)
_lock = threading.Lock()
Line = TypeVar("Line")


def forget_lines() -> None:
    """Every connection ends as soon as nobody has it any more."""
    with _lock:
        _lines.clear()


def _line(address: object, secret: object, make: Callable[[], Line]) -> Line:
    """A connection that all of a process share."""
    with _lock:
        if (address, secret) not in _lines:
            _lines[address, secret] = make()
        found: Line = _lines[address, secret]  # type: ignore[assignment]
        return found


def reached(name: str, address: Address, secret: Secret, mark: str = "", *, attests: bool = False) -> RemoteStore:
    """The store as it may be asked; nothing is sent yet. mark: what it must bear, or empty where it is none yet"""
    if isinstance(address, ObjectsAddress) and isinstance(secret, ObjectsSecret):
        client = _line(address, secret, lambda: objects_client(address, secret))
        return ObjectsStore(name, client, address, mark, attests=attests)
    if isinstance(address, SftpAddress) and isinstance(secret, SftpSecret):
        line = _line(address, secret, lambda: SftpLine(address, secret))
        return SftpStore(name, line, mark, attests=attests)
    if isinstance(address, WebdavAddress) and isinstance(secret, WebdavSecret):
        return WebdavStore(name, _line(address, secret, lambda: WebdavLine(secret)), address, mark)
    raise TypeError("what opens one kind of server opens no other")


def address_of(store: Store) -> Address:
    return address_from(store.kind, store.address)


def on_server(store: Store) -> RemoteStore:
    """The store as it may be asked; nothing is sent yet. Raises StoreVanished where nothing opens its server."""
    kept = StoreSecret.objects.filter(store=store).first()
    if kept is None:
        raise StoreVanished(f"nobody gave what opens the server of '{store.name}'")
    address = address_of(store)
    fields = opened(bytes(kept.sealed), str(store.uuid), address, store.name)
    secret = KINDS[StoreKind(store.kind)].secret(**fields)
    there = reached(store.name, address, secret, str(store.uuid), attests=store.attests)
    there.keeps_notes = partial(_keeper_of_notes, str(store.uuid))
    return there


_NOTES_KEPT_S = 7 * 24 * 3600
"""What nobody went on with for so long nobody may believe any more."""


def _keeper_of_notes(store: str) -> LocalStore:
    """A folder of this station's own for what runs note of a store on a server."""
    folder = Path(settings.VAR) / "notes" / store
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    for file in folder.rglob("*"):
        with contextlib.suppress(OSError):  # another run forgets its own just now
            if file.is_file() and time.time() - file.stat().st_mtime > _NOTES_KEPT_S:
                file.unlink()
    return LocalStore("this station's notes", folder)


def open_on_server(store: Store) -> RemoteStore:
    """The store, if its server answers and it bears the store's mark. Raises StoreVanished with a sentence."""
    found = on_server(store)
    try:
        found.require()
    except StoreVanished:
        raise
    except StoreError as error:
        raise StoreVanished(f"'{store.name}' cannot be looked at: {error.sentence}") from error
    return found
