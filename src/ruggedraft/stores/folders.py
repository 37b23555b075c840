"""Stores that are a folder of a mounted file system, wherever that is mounted at present."""

from pathlib import Path

from ruggedraft.core.errors import StoreVanished, why
from ruggedraft.core.machine.devices import UNKNOWN
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.packages import PackageStore

from .models import Store
from .probe import device_probe
from .volumes import places_of, volume_at

MARKER = ".raft-store"
"""A small file in a store's folder that names it: an empty mount point has none, a drive elsewhere still does."""


def mark_on(folder: Path) -> str:
    """Which store a folder is marked as. Raises OSError where it bears no mark, ValueError where that is no text."""
    return (folder / MARKER).read_text().strip()


def open_folder(store: Store) -> LocalStore:
    """The store, where it is mounted now. Raises StoreVanished with a sentence."""
    return device_probe().store(store.name, folder_of(store))


def open_packages(store: Store) -> PackageStore:
    """The same for one that keeps sealed packages."""
    folder = folder_of(store)
    return PackageStore(device_probe().store(store.name, folder), folder)


def folder_of(store: Store) -> Path:
    """Where a store is on this machine: at its last place, else wherever its file system is mounted now.

    Its marker says which store it is, its device and its file system that it is no copy of one. Raises StoreVanished.
    """
    if not store.is_local:
        raise StoreVanished(f"'{store.name}' is on a server, and no folder of this machine")
    usual = Path(store.path)
    against = _what_speaks_against(store, usual)
    if not against:
        return usual
    elsewhere = (place for place in _other_places(store, usual) if not _what_speaks_against(store, place))
    found = next(elsewhere, None)
    if found is None:
        raise StoreVanished(against)
    return found


def _other_places(store: Store, usual: Path) -> list[Path]:
    """Only of a store whose file system has a name of its own: any other is where it was, or not there."""
    return [place for place in places_of(store.inside, store.volume) if place != usual] if store.volume else []


def _what_speaks_against(store: Store, folder: Path) -> str:
    """Why a folder is not this store, in a sentence; empty where it is."""
    name = store.name
    try:
        marked = mark_on(folder)
        under = device_probe().under(folder)
        volume, _ = volume_at(folder) if store.volume else ("", "")
    except OSError as error:
        return f"'{name}' is not connected: nothing of it is at {store.path} ({why(error)})"
    if marked != str(store.uuid):
        return f"'{name}' is not connected: another store is at {store.path}"
    known, seen = set(store.identities) - {UNKNOWN}, under - {UNKNOWN}
    if known and not known & seen:
        return f"'{name}' is on another device than the ledger knows; it may not count as it did"
    if store.volume and not volume:
        return f"'{name}' cannot be told from a copy of its mark: this machine does not know which file system that is"
    if volume != store.volume:
        return f"{folder} carries the mark of '{name}', but is another file system: somebody copied it there"
    return ""
