"""Files that are missing from a copy are looked for by content before anybody calls them lost."""

from collections.abc import Callable, Collection, Mapping

from ..comparing import Contents
from ..errors import StoreError, StoreVanished
from ..hashing import Algorithm
from ..stores.port import Data, Store, beneath

Missing = Mapping[str, tuple[int, str]]
"""Size in bytes and checksum, by path."""


def look_for(
    store: Store,
    folder: str,
    missing: Missing,
    known: Collection[str],
    algorithm: Algorithm,
    on_data: Callable[[Data], None] = lambda data: None,
) -> dict[str, str]:
    """Where on the store files that are missing in a folder lie under another name: by path in it, a path on the store.

    Looked at are files of the right size: whatever is in the folder and not `known` there, and elsewhere on the store
    what bears the missing file's own name.

    on_data: sees each piece that is read, and may raise to stop it
    Raises StoreVanished.
    """
    there = _there(store, _Sought(folder, missing, known))
    content = Contents(store, on_data)
    sums: dict[str, str] = {}
    for path in there:
        checksum = content.sum_if_any(path, algorithm)
        if checksum:
            sums.setdefault(checksum, path)
    return {path: sums[checksum] for path, (size, checksum) in missing.items() if size and checksum in sums}


class _Sought:
    """What may be one of the missing, by its path on the store and its size. An empty file is as good as another."""

    def __init__(self, folder: str, missing: Missing, known: Collection[str]) -> None:
        self._inside = beneath(folder, "")
        self._sizes = {size for size, _ in missing.values()} - {0}
        self._names = {_name(path) for path in missing}
        self._own = {beneath(folder, path) for path in known}

    def may_be(self, path: str, size: int) -> bool:
        near = path.startswith(self._inside) or _name(path) in self._names
        return near and size in self._sizes and path not in self._own


def _name(path: str) -> str:
    return path.rpartition("/")[2]


def _there(store: Store, sought: _Sought) -> list[str]:
    try:
        return sorted(path for path, (size, _) in store.look("").items() if sought.may_be(path, size))
    except StoreVanished:
        raise
    except StoreError:  # what does not show is not there for us; nothing is claimed of it
        return []
