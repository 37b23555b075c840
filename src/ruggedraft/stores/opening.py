"""Opening a store for work, whatever its kind. The one place that knows how each kind is reached."""

from collections.abc import Callable

from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.stores import Store as OpenStore
from ruggedraft.core.stores import StoreKind

from .folders import open_folder, open_packages
from .models import Store
from .queries import is_lost, stores
from .servers import open_on_server

_BY_KIND: dict[StoreKind, Callable[[Store], OpenStore]] = dict.fromkeys(StoreKind, open_on_server) | {
    StoreKind.FOLDER: open_folder,
    StoreKind.PACKAGES: open_packages,
}


def open_store(store: Store) -> OpenStore:
    """The store, if it can be reached and is really this one. Raises StoreVanished with a sentence."""
    return _BY_KIND[StoreKind(store.kind)](store)


def open_usable(store: Store) -> OpenStore:
    """The same, but only if nobody reported it lost, as the ledger knows it now."""
    if is_lost(stores().get(pk=store.pk)):
        raise StoreVanished(f"'{store.name}' was reported lost: say that it was found first")
    return open_store(store)
