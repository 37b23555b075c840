"""Stores on servers that are asked for many things at a time, each by a thread that waits for its answer."""

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor

from ..errors import StoreError
from .port import PendingFile, whole_of
from .remote import RemoteStore


class SideBySideStore(RemoteStore):
    """A kind says how many requests are under way at most: `at_once`."""

    at_once = 16

    def __init__(self) -> None:
        super().__init__()
        self._pool: ThreadPoolExecutor | None = None

    def begin_threads(self) -> None:
        """Of a run; once."""
        self._pool = self._pool or ThreadPoolExecutor(self.at_once, thread_name_prefix=f"store {self.name}")

    def end_threads(self) -> None:
        """Does not wait for what they do."""
        pool, self._pool = self._pool, None
        if pool:
            pool.shutdown(wait=False, cancel_futures=True)

    def threads(self) -> ThreadPoolExecutor:
        """Raises RuntimeError outside of a run."""
        if self._pool is None:
            raise RuntimeError("a store is written between open() and close()")
        return self._pool

    def read_many(self, paths: Sequence[str], expected: Sequence[int]) -> list[bytes | StoreError]:
        """Each as a whole, to its very end."""
        if self._pool is None:
            with ThreadPoolExecutor(self.at_once) as pool:
                return list(pool.map(self._whole, paths, expected))
        return list(self._pool.map(self._whole, paths, expected))

    def _whole(self, path: str, size: int) -> bytes | StoreError:
        try:
            content, _ = whole_of(lambda take: self.read_back(path, take), size)
        except StoreError as error:
            return error
        return bytes(content)


def given_up(files: Sequence[PendingFile], error: StoreError) -> list[StoreError | None]:
    """None of these files gets its name: what `commit` returns then."""
    for file in files:
        file.discard()
    return [error] * len(files)
