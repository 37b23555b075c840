"""The store: what the engine asks, as requests to the server."""

import asyncio
import shlex
import stat
import uuid
from collections import deque
from collections.abc import AsyncIterator, Awaitable, Callable, Coroutine, Iterable, Sequence
from concurrent.futures import Future
from contextlib import asynccontextmanager, suppress
from functools import partial
from typing import Any, TypeVar

import asyncssh

from ...errors import Conflict, FileMissing, FileRefused, StoreError, StoreFull
from ...evidence import Evidence
from ...files.confinement import parts_of
from ...files.medium import LARGE
from ...hashing import Algorithm
from ...turns import Turns
from ..port import Consume, Found, PendingFile, Room, Whole
from ..remote import RUNS, RemoteStore
from .answers import PROGRAMS, as_bytes, facts_of, is_file, listed, open_to_stream, read_pieces, stamp_of
from .line import SftpLine, sftp_error
from .parts import SftpFile, create, finish, seconds

T = TypeVar("T")

_AT_ONCE = 64
_OUTSTANDING = 4
_PIECE = 4 << 20  # bytes
_LONG_S = 3600.0
_TO_ATTEST = 100
_DEAD_AFTER_S = 48 * 3600
"""A run's folder in which nothing happened for so long, by the server's own clock, is left over from one that died."""
_LITTLE = 1 << 20  # bytes
_AT_LEAST = 1 << 14  # bytes


class SftpStore(RemoteStore):
    """line: may be shared with other stores of the same server and user.

    attests: the server computes checksums itself, with programs of its own, which is believed instead of reading back
    syncs: it has synced every file that a run wrote, by fsync@openssh.com (OpenSSH, PROTOCOL, 4.5)
    """

    def __init__(self, name: str, line: SftpLine, mark: str = "", *, attests: bool = False) -> None:
        super().__init__()
        self.name, self.mark, self.attests = name, mark, attests
        self._line = line
        self._base = line.address.folder.rstrip("/")
        self._run = ""
        self._count = 0
        self._made: set[str] = set()
        self.syncs = True

    def open(self, turns: Turns | None = None) -> None:
        """Raises StoreError, also where the mark is not there."""
        self.require()
        self.forget_names()
        self._made = set()
        self._run = f"{RUNS}/{uuid.uuid4().hex}"
        self._do(self._make_folders(self._run))
        self._do(self._clear_old_runs())

    def close(self) -> None:
        """What was never named is taken away."""
        self.let_notes_go()
        run, self._run = self._run, ""
        if run:
            with suppress(StoreError):
                self._do(self._remove_run(run))

    def room(self) -> Room:
        """By statvfs@openssh.com. Raises FileRefused where the server does not tell."""
        try:
            facts = self._do(self._call(lambda client: client.statvfs(self._at(""))))
        except StoreError as error:
            if isinstance(error.__cause__, asyncssh.SFTPOpUnsupported):
                raise FileRefused(f"the server of '{self.name}' does not say how much room it has") from error
            raise
        return Room(facts.bavail * facts.frsize, facts.blocks * facts.frsize)

    def found(self, path: str) -> Found | None:
        """Links are not followed."""
        parts_of(path)
        attrs = self._do(self._lstat(path)) if self.may_be_there(path) else None
        return Found(is_file(attrs), attrs.size or 0) if attrs else None

    def names_in(self, folder: str) -> set[str]:
        """By one listing."""
        try:
            entries = self._do(self._call(lambda client: listed(client, self._at(folder))))
        except FileMissing:
            return set()
        return {str(entry.filename) for entry in entries}

    def facts(self, path: str) -> tuple[int, int] | None:
        """SFTP keeps whole seconds."""
        parts_of(path)
        attrs = self._do(self._lstat(path))
        return facts_of(attrs) if attrs and is_file(attrs) else None

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """Permissions, size and time, of a server that syncs: one that does not may lose with its power what it told.

        No server tells when a file was changed. Whoever puts other bytes there and sets the time back does so after the
        file was read, and that is what the evidence speaks of.
        """
        if not self.syncs:
            return [None] * len(paths)
        told = self._do(self._each(self._lstat(path) for path in paths), patience_s=_LONG_S)
        return [stamp_of(one) if isinstance(one, asyncssh.SFTPAttrs) else None for one in told]

    def write(self, path: str, size: int = 0, mode: int | None = None) -> "SftpFile":
        """Into the run's folder, from where it is renamed."""
        parts_of(path)
        return SftpFile(self, path, self._new_part(), mode)

    def write_whole(self, files: Sequence[Whole]) -> list[PendingFile | StoreError]:
        """Many side by side."""
        for file in files:
            parts_of(file.path)
        parts = [(self._new_part(), bytes(file.data), file) for file in files]
        outcome = self._do(self._all(self._put(part, data, file) for part, data, file in parts), patience_s=_LONG_S)
        return [
            self._as_store_error(error) if error else SftpFile(self, file.path, part, file.mode, ended=True)
            for (part, _, file), error in zip(parts, outcome, strict=True)
        ]

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Each is renamed, never over another file unless told to; its bytes were synced when it ended."""
        ours = [file for file in files if isinstance(file, SftpFile)]
        try:
            self.require()
            self._do(self._make_folders(*{file.path.rpartition("/")[0] for file in ours}))
            outcome = self._do(
                self._all(self._name(file.part, file.path, replace) for file in ours), patience_s=_LONG_S
            )
        except StoreError as error:
            for file in ours:
                file.abandon()
            return [error] * len(ours)
        for file, failed in zip(ours, outcome, strict=True):
            file.settle(named=failed is None)
            self.named(file.path)  # or somebody else's is there
        return [self._as_store_error(failed) if failed else None for failed in outcome]

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Makes them and sets their times; no server is known that syncs a folder when asked."""
        self._do(self._make_folders(*(path for path, _ in folders)))
        for path, modified_ns in folders:
            if modified_ns is not None:
                times = seconds(modified_ns)
                self._do(self._call(partial(asyncssh.SFTPClient.utime, path=self._at(path), times=times)))

    def read_at(self, path: str, offset: int, size: int) -> bytes:
        """Many requests under way for one piece."""
        parts_of(path)
        return self._do(self._read(path, offset, size))

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """While one piece is looked at, the next are on their way."""
        parts_of(path)
        handle, most = self._do(self._call(lambda client: open_to_stream(client, self._at(path))))
        try:
            self._stream(handle, most, consume)
        finally:
            with suppress(StoreError):
                self._do(handle.close())
        return Evidence.READ_BACK

    def _stream(self, handle: asyncssh.SFTPClientFile, most: int, consume: Consume) -> None:
        """From where an answer is shorter than it was asked for, what follows it is asked for anew: it may be the end.

        most: bytes of an answer
        """
        at, ahead, a_piece = 0, deque[Future[list[bytes]]](), most * max(1, _PIECE // most)
        while True:
            while len(ahead) < _OUTSTANDING:
                ahead.append(self._line.begin(read_pieces(handle, at + len(ahead) * a_piece, a_piece, most)))
            for answer in self._line.end(ahead.popleft(), self.name):
                if not answer:
                    return
                consume(answer)
                at += len(answer)
                if len(answer) < most:
                    ahead.clear()
                    break

    def read_many(self, paths: Sequence[str], expected: Sequence[int]) -> list[bytes | StoreError]:
        """Side by side."""
        for path in paths:
            parts_of(path)
        wanted = zip(paths, expected, strict=True)
        given = self._do(self._each(self._read_to_the_end(path, size) for path, size in wanted), patience_s=_LONG_S)
        return [self._as_store_error(one) if isinstance(one, Exception) else one for one in given]

    def attested(self, files: Sequence[tuple[str, str]], algorithm: Algorithm) -> list[bool | None]:
        """By a program on the server that reads the files and prints their checksums; None where it has none."""
        if not self.attests or algorithm.name not in PROGRAMS:
            return [None] * len(files)
        said: list[bool | None] = []
        for start in range(0, len(files), _TO_ATTEST):
            said += self._attested(files[start : start + _TO_ATTEST], algorithm)
        return said

    def _attested(self, files: Sequence[tuple[str, str]], algorithm: Algorithm) -> list[bool | None]:
        for path, _ in files:
            parts_of(path)
        words = " ".join(shlex.quote(self._at(path)) for path, _ in files)
        command = f"{PROGRAMS[algorithm.name]} -- {words}"
        status, printed = self._do(self._line.run(command), patience_s=_LONG_S)
        sums = [line.lstrip("\\").split(" ")[0].lower() for line in printed.splitlines()]
        if status != 0 or len(sums) != len(files) or any(len(one) != algorithm.digits for one in sums):
            return [None] * len(files)
        return [one == checksum for one, (_, checksum) in zip(sums, files, strict=True)]

    def look(self, folder: str) -> dict[str, tuple[int, int]]:
        """The mark is read before and after: a folder that nothing is mounted on looks empty, and is not."""
        if folder:
            parts_of(folder)
        self.require()
        found: dict[str, tuple[int, int]] = {}
        if self._do(self._lstat(folder)) is None:
            return found
        try:
            self._do(self._add_facts(folder, "", found), patience_s=_LONG_S)
        except FileMissing as error:
            raise StoreError(f"{folder} on '{self.name}' changed while it was looked at: look again") from error
        self.require()
        return found

    def move(self, path: str, to: str) -> None:
        """Over nothing, as far as the server keeps to its protocol."""
        parts_of(path)
        parts_of(to)
        self._do(self._make_folders(to.rpartition("/")[0]))
        failed = self._do(self._name(self._at(path), to, replace=False))
        if failed:
            raise self._as_store_error(failed)

    def withdraw(self, path: str) -> None:
        """Removes the name; whether the server makes that durable is its own affair."""
        parts_of(path)
        self._do(self._call(lambda client: client.remove(self._at(path))))

    # What runs in the line's own thread

    async def _call(self, ask: Callable[[asyncssh.SFTPClient], Awaitable[T]]) -> T:
        return await ask(await self._line.client())

    async def _lstat(self, path: str) -> asyncssh.SFTPAttrs | None:
        client = await self._line.client()
        try:
            return await client.lstat(self._at(path))
        except (asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath):
            return None

    async def _read(self, path: str, offset: int, size: int) -> bytes:
        async with self._opened(path) as file:
            return as_bytes(await file.read(size, offset))

    async def _read_to_the_end(self, path: str, expected: int) -> bytes:
        content = bytearray()
        async with self._opened(path) as file:
            while True:
                piece = as_bytes(await file.read(max(expected + 1 - len(content), _AT_LEAST), len(content)))
                content += piece
                ends = len(content) == expected and not await file.read(1, expected)
                if not piece or ends or len(content) > expected + LARGE:
                    return bytes(content)

    @asynccontextmanager
    async def _opened(self, path: str) -> AsyncIterator[asyncssh.SFTPClientFile]:
        client = await self._line.client()
        file = await client.open(self._at(path), "rb", encoding=None)
        try:
            yield file
        finally:
            await file.close()

    async def _put(self, part: str, data: bytes, file: Whole) -> None:
        client = await self._line.client()
        handle = await create(client, part, file.mode)
        try:
            await handle.write(data, 0)
            synced = await finish(handle, file.modified_ns, None)
            self.syncs = self.syncs and synced
        finally:
            await handle.close()

    async def _name(self, part: str, path: str, replace: bool) -> Exception | None:
        """Servers of version 3 only say that it failed; what stands there tells why."""
        client = await self._line.client()
        try:
            if replace:
                await client.posix_rename(part, self._at(path))
            elif await self._lstat(path) is not None:
                return Conflict(f"something else is under this name on '{self.name}'")
            else:
                await client.rename(part, self._at(path))
        except asyncssh.SFTPFailure as error:
            there = await self._lstat(path) is not None
            return Conflict(f"something else is under this name on '{self.name}'") if there else error
        except (OSError, asyncssh.Error) as error:
            return error
        return None

    async def _make_folders(self, *folders: str) -> None:
        for folder in sorted(folder for folder in folders if folder and folder not in self._made):
            client, above = await self._line.client(), ""
            for part in parts_of(folder):
                above = f"{above}/{part}" if above else part
                if above not in self._made:
                    with suppress(asyncssh.SFTPFailure, asyncssh.SFTPFileAlreadyExists):  # it is there
                        await client.mkdir(self._at(above))
                    self._made.add(above)

    async def _clear_old_runs(self) -> None:
        """How old they are is judged by the server's own clock: ours may be another.

        One that stays keeps nobody waiting: another station may be taking it away just now.
        """
        client = await self._line.client()
        mine = await client.stat(self._at(self._run))
        async for entry in client.scandir(self._at(RUNS)):
            name = str(entry.filename)
            age = (mine.mtime or 0) - (entry.attrs.mtime or 0)
            if name not in (".", "..") and f"{RUNS}/{name}" != self._run and age > _DEAD_AFTER_S:
                with suppress(asyncssh.SFTPError):
                    await self._remove_run(f"{RUNS}/{name}")

    async def _remove_run(self, run: str) -> None:
        client = await self._line.client()
        for name in await client.listdir(self._at(run)):
            if name not in (".", ".."):
                await client.remove(f"{self._at(run)}/{name}")
        await client.rmdir(self._at(run))

    async def _add_facts(self, folder: str, inside: str, found: dict[str, tuple[int, int]]) -> None:
        client = await self._line.client()
        folders = []
        for entry in await self._line.patiently(listed(client, self._at(folder))):
            name = str(entry.filename)
            if is_file(entry.attrs):
                found[inside + name] = facts_of(entry.attrs)
            elif stat.S_ISDIR(entry.attrs.permissions or 0) and name not in (".", ".."):
                folders.append(name)
        for name in folders:
            await self._add_facts(f"{folder}/{name}" if folder else name, f"{inside}{name}/", found)

    async def _all(self, work: Iterable[Coroutine[Any, Any, object]]) -> list[Exception | None]:
        """What became of each; many at once."""
        return [one if isinstance(one, Exception) else None for one in await self._each(work)]

    async def _each(self, work: Iterable[Coroutine[Any, Any, object]]) -> list[Any]:
        """The result of each, or its error; not more at once than a server likes, and none waited for too long."""
        room = asyncio.Semaphore(_AT_ONCE)

        async def _one(task: Coroutine[Any, Any, object]) -> object:
            async with room:
                try:
                    return await self._line.patiently(task)
                except (OSError, asyncssh.Error, StoreError) as error:
                    return error

        return await asyncio.gather(*(_one(task) for task in work))

    # Small things

    def _do(self, work: Coroutine[Any, Any, T], patience_s: float = 0) -> T:
        try:
            return self._line.do(work, self.name, patience_s)
        except FileRefused as error:
            raise self._as_store_error(error) from error.__cause__

    def _as_store_error(self, error: Exception) -> StoreError:
        """Servers of version 3 cannot say that they are full: their room tells."""
        known = error if isinstance(error, StoreError) else sftp_error(error, self.name)
        cause = error.__cause__ if isinstance(error, StoreError) else error
        if isinstance(cause, asyncssh.SFTPFailure) and self._is_full():
            return StoreFull(f"'{self.name}' is full: make room on it, and offload again")
        return known

    def _is_full(self) -> bool:
        try:
            facts = self._line.do(self._call(lambda client: client.statvfs(self._at(""))), self.name)
        except StoreError:
            return False
        return bool(facts.bavail * facts.frsize < _LITTLE)

    def _new_part(self) -> str:
        if not self._run:
            raise RuntimeError("a store is written between open() and close()")
        self._count += 1
        return f"{self._at(self._run)}/{self._count}"

    def _at(self, path: str) -> str:
        return f"{self._base}/{path}" if path else self._base or "/"
