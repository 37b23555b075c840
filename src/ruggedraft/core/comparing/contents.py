"""How content is compared: files of stores are read, past this machine's caches; what a ledger knows is looked up."""

from collections.abc import Callable, Mapping

from ..errors import StoreError, StoreVanished
from ..evidence import Evidence
from ..hashing import Algorithm
from ..stores.port import Data, Store
from .compare import Reader

Known = Mapping[str, tuple[Algorithm, str]]
"""By path, what a file's content is known to come to, and by which checksum."""


class Contents:
    """Checksums of what is on a store, read whenever one is asked for.

    cached: how many files came, or may have come, from this machine's memory
    on_data: sees every piece that is read; what it raises ends the comparison
    """

    def __init__(self, store: Store, on_data: Callable[[Data], None] = lambda data: None) -> None:
        self._store, self._on_data = store, on_data
        self.cached = 0

    def sum(self, path: str, algorithm: Algorithm) -> str:
        """Raises StoreError."""
        hasher = algorithm.start()

        def _consume(data: Data) -> None:
            self._on_data(data)
            hasher.update(data)

        self.cached += self._store.read_back(path, _consume) < Evidence.READ_BACK
        return hasher.hexdigest()

    def sum_if_any(self, path: str, algorithm: Algorithm) -> str | None:
        """None where it cannot be read. Raises StoreVanished: a store that went away says nothing about its files."""
        try:
            return self.sum(path, algorithm)
        except StoreVanished:
            raise
        except StoreError:
            return None


def of_two_stores(left: Contents, right: Contents, algorithm: Algorithm) -> Reader:
    """Both sides are read."""

    def _same(path: str) -> bool | str:
        try:
            return left.sum(path, algorithm) == right.sum(path, algorithm)
        except StoreError as error:
            return error.sentence

    return Reader(_same, lambda path: left.sum_if_any(path, algorithm), lambda path: right.sum_if_any(path, algorithm))


def of_what_is_known(known: Known, right: Contents, usual: Algorithm) -> Reader:
    """Only the right side is read. usual: by which what was moved is sought; files known by another are not."""

    def _same(path: str) -> bool | str:
        algorithm, checksum = known[path]
        try:
            return right.sum(path, algorithm) == checksum
        except StoreError as error:
            return error.sentence

    def _known(path: str) -> str | None:
        algorithm, checksum = known[path]
        return checksum if algorithm == usual else None

    return Reader(_same, _known, lambda path: right.sum_if_any(path, usual))
