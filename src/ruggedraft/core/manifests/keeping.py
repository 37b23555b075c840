"""Leaving a roll's checksum list beside its copy, without ever contradicting one that is there."""

from collections.abc import Mapping

from ..errors import Conflict, ListError, StoreError
from ..hashing import Algorithm
from ..stores.port import Store
from ..stores.writing import write_one
from .checksum_list import format_list, parse_list

UNFINISHED = ".incomplete"


def keep_list(
    store: Store,
    folder: str,
    checksums: Mapping[str, str],
    algorithm: Algorithm,
    *,
    modified_ns: int,
    complete: bool,
    name: str | None = None,
) -> str:
    """Write `folder.HASH`, or `folder.HASH.incomplete` while the copy is not whole, and return its path.

    checksums: by path inside the folder. The list's own paths start with the folder's last part, so that it can be
    checked from the folder that holds both. Entries of an earlier list stay (their files are still there).
    Raises Conflict if an earlier list says something else of the same file, or another StoreError.
    name: where the folder holds other rolls too, the list is `folder/name.HASH` and its paths start inside the folder
    The store must be open.
    """
    parent, _, last = folder.rpartition("/")
    final = f"{folder}/{name}.{algorithm.name}" if name else f"{folder}.{algorithm.name}"
    unfinished = final + UNFINISHED
    sums = {path if name else f"{last}/{path}": checksum for path, checksum in checksums.items()}
    merged = _existing(store, unfinished) | _existing(store, final)
    for path, checksum in sums.items():
        if merged.get(path, checksum) != checksum:
            raise Conflict(f"the list {final} on '{store.name}' has another checksum for {path}; it was left as it is")
    target = final if complete else unfinished
    content = format_list(merged | sums if merged else sums)
    del sums
    if not content:
        return target
    _write_and_read_back(store, target, content, modified_ns)
    if complete and store.found(unfinished):
        store.withdraw(unfinished)
    if name or parent:
        store.settle([(folder if name else parent, None)])
    return target


def _existing(store: Store, path: str) -> dict[str, str]:
    if store.found(path) is None:
        return {}
    content = bytearray()
    store.read_back(path, content.extend)
    try:
        return {listed.path: listed.checksum for listed in parse_list(bytes(content))}
    except ListError as error:
        raise Conflict(f"{path} on '{store.name}' is not a list we can read; it was left as it is") from error


def _write_and_read_back(store: Store, path: str, content: bytes, modified_ns: int) -> None:
    write_one(store, path, content, modified_ns, replace=True)
    held = bytearray()
    store.read_back(path, held.extend)
    if held != content:
        raise StoreError(f"'{store.name}' gave back other bytes than were written to its list {path}")
