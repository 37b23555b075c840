"""Files on their way to an SFTP server."""

import asyncio
from collections import deque
from collections.abc import Sequence
from concurrent.futures import Future
from contextlib import suppress
from typing import TYPE_CHECKING

import asyncssh

from ...errors import FileRefused, StoreError
from ..port import Data, PendingFile

if TYPE_CHECKING:
    from .store import SftpStore

_OUTSTANDING = 4
_TO_SYNC = 4
"""So many times the usual patience: much may have to reach the medium."""


async def create(
    client: asyncssh.SFTPClient, part: str, mode: int | None, block_size: int = -1
) -> asyncssh.SFTPClientFile:
    """A file of the run's own that was not there before. block_size: 0 to send each piece as one request"""
    attrs = asyncssh.SFTPAttrs(permissions=(mode if mode is not None else 0o644) | 0o600)
    return await client.open(part, "xb", attrs, encoding=None, block_size=block_size)


async def finish(handle: asyncssh.SFTPClientFile, modified_ns: int, size: int | None) -> bool:
    """Set its size and time, and have it synced; whether the server can. size: where it ends in a hole"""
    if size is not None:
        await handle.truncate(size)
    synced = False
    with suppress(asyncssh.SFTPOpUnsupported):
        await handle.fsync()
        synced = True
    await handle.utime(seconds(modified_ns))
    return synced


class SftpFile(PendingFile):
    """A file in the run's folder. A few pieces are under way at a time, so that no memory is piled up."""

    def __init__(self, store: "SftpStore", path: str, part: str, mode: int | None, *, ended: bool = False) -> None:
        self.path, self.part = path, part
        self._store, self._mode = store, mode
        self._handle: asyncssh.SFTPClientFile | None = None
        self._under_way: deque[Future[object]] = deque()
        self._most = 0
        """Bytes that the server takes at a time, as it says when it makes the file."""
        self._at, self._hole, self._over, self._there = 0, False, False, ended

    def write(self, data: Data) -> None:
        """Copies the piece, as its buffer is used again. Raises StoreError, perhaps for a piece before."""
        handle = self._open()
        if len(self._under_way) >= _OUTSTANDING:
            self._wait_for_one()
        line = self._store._line
        with memoryview(data) as view:
            pieces = [bytes(view[at : at + self._most]) for at in range(0, len(view), self._most)]
        self._under_way.append(line.begin(_write(handle, pieces, self._at, self._most)))
        self._at += len(data)
        self._hole = False

    def skip(self, count: int) -> None:
        """Nothing is sent: what lies between two pieces reads as zeros (draft-ietf-secsh-filexfer-02, 6.4)."""
        self._at += count
        self._hole = True

    def end(self, modified_ns: int) -> None:
        """Synced, where the server can."""
        handle = self._open()
        while self._under_way:
            self._wait_for_one()
        synced = self._store._do(
            finish(handle, modified_ns, self._at if self._hole else None),
            patience_s=self._store._line.patience_s * _TO_SYNC,
        )
        self._store.syncs = self._store.syncs and synced
        self._store._do(handle.close())
        self._handle = None

    def discard(self) -> None:
        """Removes it on the server, if that can be reached; if not, the next run does."""
        if self._over:
            return
        self._over = True
        with suppress(Exception):
            while self._under_way:
                self._under_way.popleft().result(self._store._line.patience_s)
        with suppress(StoreError):
            if self._handle:
                self._store._do(self._handle.close())
            if self._there:
                self._store._do(self._store._call(lambda client: client.remove(self.part)))

    def abandon(self) -> None:
        """Leave it to a later run: the server is not there, and asking it for each file would take for ever."""
        self._over = True

    def settle(self, *, named: bool) -> None:
        """After it was given its name, or refused one."""
        if named:
            self._over = True
        else:
            self.discard()

    def _open(self) -> asyncssh.SFTPClientFile:
        if self._handle is None:
            store = self._store
            self._handle, self._most = store._do(store._call(self._created))
            self._there = True
        return self._handle

    async def _created(self, client: asyncssh.SFTPClient) -> tuple[asyncssh.SFTPClientFile, int]:
        return await create(client, self.part, self._mode, block_size=0), client.limits.max_write_len

    def _wait_for_one(self) -> None:
        store = self._store
        try:
            store._line.end(self._under_way.popleft(), store.name)
        except FileRefused as error:
            raise store._as_store_error(error) from error.__cause__


async def _write(handle: asyncssh.SFTPClientFile, pieces: Sequence[bytes], offset: int, most: int) -> None:
    await asyncio.gather(*(handle.write(piece, offset + n * most) for n, piece in enumerate(pieces)))


def seconds(modified_ns: int) -> tuple[float, float]:
    """Access and modification time, as version 3 keeps them."""
    return modified_ns // 10**9, modified_ns // 10**9
