"""What is on a store, but for what we left there ourselves."""

from ruggedraft.core.sources import from_ledger
from ruggedraft.rolls.models import BesideCopy
from ruggedraft.stores.folders import MARKER
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_usable


def all_but_ours(store: Store) -> dict[str, int]:
    """Sizes by path of everything on a store but the lists and records beside copies. Raises StoreError."""
    ours = set(map(from_ledger, BesideCopy.objects.filter(copy__store=store).values_list("path", flat=True)))
    there = open_usable(store).look("")
    inner = tuple(path.removesuffix(MARKER) for path in there if path.endswith(f"/{MARKER}"))  # stores of their own
    return {path: size for path, (size, _) in there.items() if path not in ours and not path.startswith(inner or "//")}
