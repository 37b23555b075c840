"""Stores that are a folder of a mounted file system."""

from pathlib import Path

from ruggedraft.core.errors import StoreVanished, why
from ruggedraft.core.stores import LocalStore

from .devices import UNKNOWN
from .models import Store
from .probe import device_probe

MARKER = ".raft-store"
"""A small file in a store's folder that names it: an empty mount point has none, a drive elsewhere still does."""


def open_folder(store: Store) -> LocalStore:
    """The store, if what is at its path is really this store on its device. Raises StoreVanished with a sentence."""
    folder, name = Path(store.path), store.name
    try:
        marked = (folder / MARKER).read_text().strip()
        under = device_probe().under(folder)
    except OSError as error:
        raise StoreVanished(f"'{name}' is not connected: nothing of it is at {store.path} ({why(error)})") from error
    if marked != str(store.uuid):
        raise StoreVanished(f"'{name}' is not connected: another store is at {store.path}")
    known, seen = set(store.identities) - {UNKNOWN}, under - {UNKNOWN}
    if known and not known & seen:
        raise StoreVanished(f"'{name}' is on another device than the ledger knows; it may not count as it did")
    return LocalStore(name, folder)
