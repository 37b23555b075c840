"""What a server's answers say, in the words of the store."""

import asyncio
import stat

import asyncssh

PROGRAMS = {"xxh128": "xxh128sum", "xxh64": "xxh64sum", "md5": "md5sum", "sha1": "sha1sum", "sha256": "sha256sum",
             "blake3": "b3sum"}  # fmt: skip
"""As GNU coreutils, xxHash and BLAKE3 call what computes checksums."""


async def open_to_stream(client: asyncssh.SFTPClient, path: str) -> tuple[asyncssh.SFTPClientFile, int]:
    """Also, how many bytes the server gives at a time. Each read of it is one request: nothing is put together."""
    return await client.open(path, "rb", encoding=None, block_size=0), client.limits.max_read_len


async def read_pieces(handle: asyncssh.SFTPClientFile, offset: int, size: int, most: int) -> list[bytes]:
    """Pieces of `most` bytes, side by side; the first that is shorter may be the end."""
    answers = await asyncio.gather(*(handle.read(most, at) for at in range(offset, offset + size, most)))
    return [as_bytes(answer) for answer in answers]


async def listed(client: asyncssh.SFTPClient, folder: str) -> list[asyncssh.SFTPName]:
    """What stands directly in a folder, with `.` and `..`."""
    return [entry async for entry in client.scandir(folder)]


def as_bytes(data: bytes | str) -> bytes:
    """What a file gives that was opened without an encoding."""
    return data if isinstance(data, bytes) else data.encode()


def is_file(attrs: asyncssh.SFTPAttrs) -> bool:
    """A plain file: no link, no folder."""
    return stat.S_ISREG(attrs.permissions or 0)


def facts_of(attrs: asyncssh.SFTPAttrs) -> tuple[int, int]:
    """Size in bytes, and modification time in ns: version 3 keeps whole seconds."""
    return attrs.size or 0, (attrs.mtime or 0) * 10**9


def stamp_of(attrs: asyncssh.SFTPAttrs) -> tuple[int, ...] | None:
    """See `stores.port.Notes.stamps`."""
    return (attrs.permissions or 0, *facts_of(attrs)) if is_file(attrs) else None
