"""An SFTP server in this process, of which one request goes wrong: it is refused, answered wrongly, late or never."""

import asyncio
import threading
from collections import Counter
from dataclasses import dataclass
from pathlib import Path

import asyncssh

HOWS = {
    "open": ("failure", "denied", "reset", "silent"),
    "write": ("failure", "full", "reset", "silent", "swallowed", "flipped"),
    "read": ("failure", "reset", "silent", "short", "flipped"),
    "fsync": ("failure", "reset", "silent", "rotten afterwards"),
    "close": ("failure", "reset"),
    "rename": ("failure", "reset", "silent", "done and reset"),
    "lstat": ("failure", "reset", "silent"),
    "mkdir": ("failure", "reset"),
    "scandir": ("failure", "reset", "silent"),
    "fsetstat": ("failure", "reset"),
    "remove": ("failure", "reset"),
    "connect": ("reset",),
}
"""Requests, and what may become of them. "done and reset": it was carried out, and nobody was told."""


@dataclass(frozen=True)
class Fault:
    """At the nth request (from 0) of this kind; ever_after: each later one of any kind too."""

    call: str
    nth: int
    how: str
    ever_after: bool = False


class FaultyServer:
    """Serves a folder with its own event loop. `fault` may be changed at any time; `calls` counts requests."""

    def __init__(self, folder: Path, client_key: asyncssh.SSHKey) -> None:
        self.folder, self.fault, self.struck = folder, None, 0
        self.calls = Counter()
        self.is_full = False
        self.host_key = asyncssh.generate_private_key("ssh-ed25519")
        self._keys = asyncssh.import_authorized_keys(client_key.export_public_key().decode())
        self._loop = asyncio.new_event_loop()
        self._connections = set()
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._ready = threading.Event()
        self._thread.start()
        self._ready.wait(10)

    def _serve(self):
        asyncio.set_event_loop(self._loop)
        self._loop.run_until_complete(self._listen())
        self._loop.run_forever()
        self._loop.run_until_complete(self._end())
        self._loop.close()

    async def _listen(self):
        self._acceptor = await asyncssh.listen(
            "127.0.0.1", 0, server_host_keys=[self.host_key], authorized_client_keys=self._keys,
            sftp_factory=lambda channel: _Faulty(self, channel), config=None, encoding=None,
            server_factory=lambda: _Watched(self), process_factory=None,
        )  # fmt: skip
        self.port = self._acceptor.sockets[0].getsockname()[1]
        self._ready.set()

    async def _end(self):
        self._acceptor.close()
        for connection in list(self._connections):
            connection.abort()
        await self._acceptor.wait_closed()
        others = asyncio.all_tasks() - {asyncio.current_task()}
        for task in others:
            task.cancel()
        await asyncio.gather(*others, return_exceptions=True)

    def stop(self):
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join(10)

    def strikes(self, call: str) -> str | None:
        """What becomes of this request; None where it goes well."""
        nth, fault = self.calls[call], self.fault
        self.calls[call] += 1
        if fault is None:
            return None
        here = call == fault.call and nth == fault.nth
        if here or (fault.ever_after and self.struck):
            self.struck += 1
            return fault.how if here or fault.how in HOWS.get(call, ()) else None
        return None

    def reset(self):
        for connection in list(self._connections):
            connection.abort()
        raise asyncssh.SFTPConnectionLost("reset")


class _Watched(asyncssh.SSHServer):
    def __init__(self, server: FaultyServer) -> None:
        self._server = server

    def connection_made(self, connection):
        self._server._connections.add(connection)
        self._connection = connection
        if self._server.strikes("connect"):
            connection.abort()

    def connection_lost(self, error):
        self._server._connections.discard(self._connection)


class _Faulty(asyncssh.SFTPServer):
    def __init__(self, server: FaultyServer, channel) -> None:
        super().__init__(channel, chroot=str(server.folder))
        self._server = server

    async def _fails(self, call: str) -> str | None:
        how = self._server.strikes(call)
        if how == "failure":
            raise asyncssh.SFTPFailure("it went wrong")
        if how == "denied":
            raise asyncssh.SFTPPermissionDenied("no")
        if how == "full":
            self._server.is_full = True
            raise asyncssh.SFTPFailure("no room")
        if how == "silent":
            await asyncio.sleep(3600)
        if how == "reset":
            self._server.reset()
        return how

    async def open(self, path, pflags, attrs):
        await self._fails("open")
        return super().open(path, pflags, attrs)

    async def write(self, file, offset, data):
        how = await self._fails("write")
        if how == "swallowed":
            return len(data)
        return super().write(file, offset, _flipped(data) if how == "flipped" else data)

    async def read(self, file, offset, size):
        how = await self._fails("read")
        data = super().read(file, offset, max(1, size // 3) if how == "short" else size)
        return _flipped(data) if how == "flipped" else data

    async def fsync(self, file):
        how = await self._fails("fsync")
        super().fsync(file)
        if how == "rotten afterwards":
            path = Path(file.name.decode() if isinstance(file.name, bytes) else file.name)
            path.write_bytes(_flipped(path.read_bytes()))

    async def close(self, file):
        await self._fails("close")
        super().close(file)

    async def rename(self, old, new):
        how = await self._fails("rename")
        super().rename(old, new)
        if how:
            self._server.reset()

    async def lstat(self, path):
        await self._fails("lstat")
        return super().lstat(path)

    async def mkdir(self, path, attrs):
        await self._fails("mkdir")
        super().mkdir(path, attrs)

    async def scandir(self, path):
        await self._fails("scandir")
        async for entry in super().scandir(path):
            yield entry

    async def fsetstat(self, file, attrs):
        await self._fails("fsetstat")
        super().fsetstat(file, attrs)

    async def remove(self, path):
        await self._fails("remove")
        super().remove(path)

    def statvfs(self, path):
        if self._server.is_full:
            return asyncssh.SFTPVFSAttrs(bsize=4096, frsize=4096, blocks=1000)
        return super().statvfs(path)


def _flipped(data: bytes) -> bytes:
    changed = bytearray(data)
    if changed:
        changed[len(changed) // 2] ^= 0x20
    return bytes(changed)


def every_fault(calls: Counter) -> list[Fault]:
    """Each fault at each request that a good run makes; errors also as the beginning of the end."""
    return [
        Fault(call, nth, how, ever_after)
        for call, count in sorted(calls.items())
        for nth in range(count)
        for how in HOWS.get(call, ())
        for ever_after in ((False, True) if how in ("failure", "reset") else (False,))
    ]
