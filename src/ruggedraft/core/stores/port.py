"""What the engine needs of a store. A new kind of store implements this and inherits `tests/core/store_contract.py`."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from ..evidence import Evidence

Data = bytes | bytearray | memoryview
Consume = Callable[[Data], object]


@dataclass(frozen=True)
class Room:
    """free, total: bytes that a file may take now, and bytes the store has in all"""

    free: int
    total: int


@dataclass(frozen=True)
class Found:
    """What stands under a name. `is_file` is False for folders, links and anything else."""

    is_file: bool
    size: int


class PendingFile(Protocol):
    """A file on its way: invisible under its final name until `commit` returns."""

    def write(self, data: Data) -> None:
        """Append. Raises StoreError."""

    def commit(self, modified_ns: int, *, replace: bool = False) -> None:
        """Sync the bytes, then give the file its name, never over another one unless `replace`.

        Raises Conflict if something stands there, or another StoreError. After any error the file is not there.
        """

    def discard(self) -> None:
        """Forget it; nothing is left behind. Never raises; does nothing after `commit`."""


class Store(Protocol):
    """One store, used by one run. All paths are relative, `/` between parts. Errors are StoreError."""

    name: str

    def open(self) -> None:
        """Get ready for a run. Leftovers of runs that are no longer alive are cleared away."""

    def close(self) -> None:
        """End the run; never raises."""

    def room(self) -> Room: ...

    def found(self, path: str) -> Found | None:
        """What stands under this name, or None."""

    def write(self, path: str) -> PendingFile:
        """Begin a file; its folders are made when it is committed."""

    def settle(self, folder: str, modified_ns: int | None) -> None:
        """Make the folder if it is missing, make its entries durable, and set its time if one is given."""

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """Feed every byte to `consume`, read past this machine's caches where that is possible.

        Returns READ_BACK if it was, a lower level if the bytes may have come from a cache.
        """

    def withdraw(self, path: str) -> None:
        """Remove a file this run itself wrote and found to be wrong, or a list it has replaced."""
