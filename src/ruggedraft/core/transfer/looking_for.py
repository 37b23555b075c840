"""Files that are missing from a copy are looked for by content before anybody calls them lost."""

from collections.abc import Callable, Collection, Mapping

from ..errors import StoreError, StoreVanished
from ..hashing import Algorithm
from ..stores.port import Data, Store, beneath


def look_for(
    store: Store,
    folder: str,
    missing: Mapping[str, tuple[int, str]],
    known: Collection[str],
    algorithm: Algorithm,
    on_data: Callable[[Data], None] = lambda data: None,
) -> dict[str, str]:
    """Where on the store files that are missing in a folder lie under another name: by path in it, a path on the store.

    Looked at are files of the right size: whatever is in the folder and not `known` there, and elsewhere on the store
    what bears the missing file's own name.

    missing: size in bytes and checksum, by path. on_data: sees each piece that is read, and may raise to stop it
    Raises StoreVanished.
    """
    sizes = {size for size, _ in missing.values() if size}  # one empty file is as good as another
    names = {path.rpartition("/")[2] for path in missing}
    own = {beneath(folder, path) for path in known}

    def _may_be(path: str, size: int) -> bool:
        if size not in sizes or path in own:
            return False
        return path.startswith(beneath(folder, "")) or path.rpartition("/")[2] in names

    sums: dict[str, str] = {}
    for path in _there(store, _may_be):
        content = _checksum(store, path, algorithm, on_data)
        if content:
            sums.setdefault(content, path)
    return {path: sums[checksum] for path, (size, checksum) in missing.items() if size and checksum in sums}


def _there(store: Store, may_be: Callable[[str, int], bool]) -> list[str]:
    try:
        return sorted(path for path, (size, _) in store.look("").items() if may_be(path, size))
    except StoreVanished:
        raise
    except StoreError:  # what does not show is not there for us; nothing is claimed of it
        return []


def _checksum(store: Store, path: str, algorithm: Algorithm, on_data: Callable[[Data], None]) -> str:
    """Empty where it cannot be read."""
    hasher = algorithm.start()

    def _consume(data: Data) -> None:
        on_data(data)
        hasher.update(data)

    try:
        store.read_back(path, _consume)
    except StoreVanished:
        raise
    except StoreError:
        return ""
    return hasher.hexdigest()
