"""The connection to an SFTP server."""

import asyncio
import threading
import weakref
from collections.abc import Callable, Coroutine, Sequence
from concurrent.futures import Future
from concurrent.futures import TimeoutError as TooLate
from contextlib import suppress
from dataclasses import dataclass, field
from functools import partial
from typing import Any, TypeVar

import asyncssh

from ...errors import Conflict, FileRefused, StoreError, StoreFull, StoreReadOnly, StoreVanished
from ..remote import missing

T = TypeVar("T")

_CHANNELS = 4
"""Programs that serve us on the server side by side: each answers one request after the other."""
_CONNECT_S, _PATIENCE_S = 15.0, 90.0
_WINDOW, _PACKET = 16 << 20, 255 << 10  # bytes
"""What a server may send ahead, and in one packet (RFC 4254, 5.2). With the usual 2 MiB and 32 KiB, reading took a
tenth longer (measured on loopback)."""
_CIPHERS = ["aes128-gcm@openssh.com", "aes256-gcm@openssh.com", "chacha20-poly1305@openssh.com", "aes256-ctr"]
"""Those that processors do by themselves come first."""


@dataclass(frozen=True)
class SftpAddress:
    """folder: absolute, on the server. host_key: the one it had when it was introduced, as `ssh-keyscan` prints it."""

    host: str
    port: int
    user: str
    folder: str
    host_key: str


@dataclass(frozen=True)
class SftpSecret:
    """One of both: a private key in OpenSSH's or PEM form without a passphrase, or a password. Never shown."""

    key: str = field(default="", repr=False)
    password: str = field(default="", repr=False)


def host_key_of(host: str, port: int, patience_s: float = _CONNECT_S) -> str:
    """What a server presents itself with, to be compared by a person before it is trusted. Raises StoreVanished."""

    async def ask() -> str:
        key = await asyncio.wait_for(asyncssh.get_server_host_key(host, port, config=None), patience_s)
        if key is None:
            raise StoreVanished(f"{host} presents no host key")
        return key.export_public_key("openssh").decode().strip()

    try:
        return asyncio.run(ask())
    except (OSError, asyncssh.Error) as error:
        raise StoreVanished(f"{host} does not answer as an SSH server on port {port}") from error


def fingerprint_of(host_key: str) -> str:
    """Such as `SHA256:…`, as `ssh-keygen -l` prints it. Raises ValueError where it is no key."""
    try:
        return asyncssh.import_public_key(host_key).get_fingerprint()
    except asyncssh.KeyImportError as error:
        raise ValueError("that is no host key") from error


class SftpLine:
    """A connection to a server, made when it is needed and made anew where it broke; many stores may share one.

    It has a thread of its own, in which many requests are under way at once. patience_s: for an answer
    """

    def __init__(self, address: SftpAddress, secret: SftpSecret, patience_s: float = _PATIENCE_S) -> None:
        self.address, self.patience_s = address, patience_s
        self._secret = secret
        self._loop, self._held, self._turn = asyncio.new_event_loop(), _Held(), 0
        self._connecting = asyncio.Lock()
        words = {"args": (self._loop, self._held), "name": f"sftp {address.host}", "daemon": True}
        thread = threading.Thread(target=_serve, **words)  # type: ignore[arg-type]
        thread.start()
        self.close = weakref.finalize(self, _stop, self._loop, thread)

    def begin(self, work: Coroutine[Any, Any, T]) -> "Future[T]":
        """Have something done; its result is waited for with `end`."""
        return asyncio.run_coroutine_threadsafe(work, self._loop)

    def do(self, work: Coroutine[Any, Any, T], store: str, patience_s: float = 0) -> T:
        """Have it done and wait. Raises StoreError."""
        return self.end(self.begin(work), store, patience_s)

    def end(self, future: "Future[T]", store: str, patience_s: float = 0) -> T:
        """Wait for what was begun. Raises StoreError; a server that is silent for too long is gone."""
        patience_s = patience_s or self.patience_s
        try:
            return future.result(patience_s)
        except TooLate as error:
            future.cancel()
            self._loop.call_soon_threadsafe(self._held.drop)
            words = f"'{store}' has not answered for {patience_s:.0f} seconds: see to its server"
            raise StoreVanished(words) from error
        except StoreError:
            raise
        except (OSError, asyncssh.Error, asyncssh.KeyImportError) as error:
            if isinstance(error, asyncssh.SFTPNoConnection | asyncssh.SFTPConnectionLost | asyncssh.ConnectionLost):
                self._loop.call_soon_threadsafe(self._held.drop)
            raise sftp_error(error, store) from error

    async def client(self) -> asyncssh.SFTPClient:
        """One of several, in turn."""
        async with self._connecting:
            if self._held.connection is None or self._held.connection.is_closed():
                await asyncio.wait_for(self._connect(), _CONNECT_S)
        self._turn += 1
        return self._held.clients[self._turn % len(self._held.clients)]

    async def run(self, command: str) -> tuple[int, str]:
        """Exit status and output of a program on the server."""
        await self.client()
        if self._held.connection is None:
            raise asyncssh.ConnectionLost("the connection is closed")
        done = await self._held.connection.run(command, errors="replace")
        return (done.exit_status if done.exit_status is not None else -1), str(done.stdout or "")

    async def patiently(self, work: Coroutine[Any, Any, T]) -> T:
        """Its result. Raises TimeoutError once it took too long, and hangs up, so that it and all others end."""
        task = asyncio.ensure_future(work)
        done, _ = await asyncio.wait({task}, timeout=self.patience_s)
        if not done:
            self._held.drop()
            raise TimeoutError(f"no answer for {self.patience_s:.0f} s")
        return task.result()

    async def _connect(self) -> None:
        """Nothing of this machine's own SSH is used: no agent, no configuration, no key that is lying about."""
        address, secret = self.address, self._secret
        pinned = asyncssh.import_public_key(address.host_key)
        keys = [_private(secret.key)] if secret.key else None
        connection = await asyncssh.connect(
            address.host, address.port, username=address.user, password=secret.password or None, client_keys=keys,
            known_hosts=([pinned], [], []), config=None, agent_path=None, keepalive_interval=15, keepalive_count_max=3,
            compression_algs=None, encryption_algs=_CIPHERS, connect_timeout=_CONNECT_S,
        )  # fmt: skip
        # what begins an SFTP session takes no sizes, and asks for a channel by this
        connection.open_session = partial(  # type: ignore[method-assign]
            connection.open_session, window=_WINDOW, max_pktsize=_PACKET
        )
        self._held.connection, self._held.clients = (
            connection,
            [
                await connection.start_sftp_client(path_encoding="utf-8", path_errors="surrogateescape")
                for _ in range(_CHANNELS)
            ],
        )


def _private(key: str) -> asyncssh.SSHKey:
    try:
        return asyncssh.import_private_key(key)
    except (asyncssh.KeyImportError, asyncssh.KeyEncryptionError) as error:
        raise StoreVanished("what was given is no private key, or one that needs a passphrase") from error


@dataclass
class _Held:
    """What a line has open at present; touched by its own thread alone."""

    connection: asyncssh.SSHClientConnection | None = None
    clients: list[asyncssh.SFTPClient] = field(default_factory=list)

    def drop(self) -> None:
        """The next who needs it connects anew."""
        if self.connection is not None:
            self.connection.abort()
        self.connection = None


def _serve(loop: asyncio.AbstractEventLoop, held: _Held) -> None:
    asyncio.set_event_loop(loop)
    loop.run_forever()
    loop.run_until_complete(_hang_up(held))
    loop.close()


async def _hang_up(held: _Held) -> None:
    """Whoever still waits is told that the connection is gone."""
    connection = held.connection
    held.drop()
    if connection is not None:
        with suppress(Exception):
            await asyncio.wait_for(connection.wait_closed(), 2)
    others = asyncio.all_tasks() - {asyncio.current_task()}
    for task in others:
        task.cancel()
    await asyncio.gather(*others, return_exceptions=True)


def _stop(loop: asyncio.AbstractEventLoop, thread: threading.Thread) -> None:
    with suppress(RuntimeError):  # it has ended already
        loop.call_soon_threadsafe(loop.stop)
    if thread is not threading.current_thread():
        thread.join(5)


def sftp_error(error: Exception, store: str) -> StoreError:
    """Translate what a server or the network said. What they say in their own words is not repeated."""
    for kinds, make in _MEANINGS:
        if isinstance(error, kinds):
            return make(store)
    return StoreVanished(f"'{store}' is not there any more ({type(error).__name__}): see to its server and the network")


_MEANINGS: Sequence[tuple[tuple[type[Exception], ...], Callable[[str], StoreError]]] = (
    ((asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath), missing),
    ((asyncssh.SFTPNoSpaceOnFilesystem, asyncssh.SFTPQuotaExceeded),
     lambda name: StoreFull(f"'{name}' is full: make room on it, and offload again")),
    ((asyncssh.SFTPWriteProtect,),
     lambda name: StoreReadOnly(f"'{name}' cannot be written: see whether it is locked or failing")),
    ((asyncssh.SFTPFileAlreadyExists,), lambda name: Conflict(f"something else is under this name on '{name}'")),
    ((asyncssh.HostKeyNotVerifiable, asyncssh.KeyImportError),
     lambda name: StoreVanished(
         f"the server of '{name}' presents another host key than when it was introduced: nothing was sent. "
         "Ask whoever runs it before you accept a new one")),
    ((asyncssh.PermissionDenied,),
     lambda name: StoreVanished(f"the server of '{name}' does not accept our key or password: give it the right one")),
    ((asyncssh.SFTPConnectionLost, asyncssh.SFTPNoConnection),
     lambda name: StoreVanished(f"'{name}' is not there any more (the connection broke): see to the network")),
    ((asyncssh.SFTPError,),
     lambda name: FileRefused(f"'{name}' refused it: offload again, and if it stays so do not trust this store")),
)  # fmt: skip
