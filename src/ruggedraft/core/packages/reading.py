"""Reading a package: by its index, or file by file where it has none that can be used."""

import io
import os
import tarfile
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, nullcontext
from dataclasses import dataclass, field
from functools import cached_property
from typing import BinaryIO

from ..errors import MalformedList, UnsafePath
from ..files.confinement import parts_of
from ..files.medium import MediumReading
from . import form
from .form import Member

_MOST_INDEX = 1 << 30  # bytes
_MOST_HEADER = 1 << 20
"""Bytes that are read of a header at once: no name is so long, and a made-up length must not fill the memory."""


@dataclass(frozen=True)
class Package:
    """What an archive holds of a roll.

    name: of the folder its files lie in. sealed_ns: the time it has since it was sealed; None where it is not known
    complaint: why its index could not be used, and that its files were found one by one; empty where it could
    """

    name: str
    members: dict[str, Member] = field(default_factory=dict)
    sealed_ns: int | None = None
    complaint: str = ""

    @cached_property
    def folders(self) -> frozenset[str]:
        """Of the files that it holds, inside the roll's."""
        return frozenset(above for path in self.members for above in folders_above(path))

    @classmethod
    def read(cls, descriptor: int, *, indexed: bool = False, past_caches: bool = False) -> "Package":
        """Of an open file, which stays open. indexed: only by its index. Raises OSError, MalformedList.

        An index says where to look, and proves nothing: whoever reads a file there compares it with its checksum.
        """
        try:
            return cls._by_index(descriptor, past_caches)
        except MalformedList as error:
            if indexed:
                raise
            complaint = str(error)
        return cls._one_by_one(descriptor, complaint)

    @classmethod
    def _by_index(cls, descriptor: int, past_caches: bool) -> "Package":
        whole = os.fstat(descriptor).st_size
        last_at = whole - form.LAST - form.BLOCK
        if last_at < 0:
            raise MalformedList("it is too short to be a package")
        last = _part(descriptor, last_at, form.BLOCK + form.LAST, past_caches)
        if last[form.BLOCK :] != bytes(form.LAST):
            raise MalformedList("it does not end as an archive does: it was cut off, or is not one of ours")
        at, size, checksum = form.parse_last_block(last[: form.BLOCK])
        if not (0 <= at <= last_at and 0 <= size <= min(last_at - at, _MOST_INDEX)):
            raise MalformedList("its index does not lie within it")
        index = _part(descriptor, at, size, past_caches)
        hasher = form.DIGEST.start()
        hasher.update(index)
        if hasher.hexdigest() != checksum:
            raise MalformedList("its index is damaged")
        name, sealed_ns, members = form.parse_index(index, at)
        return cls(name, {one.path: one for one in members}, sealed_ns)

    @classmethod
    def _one_by_one(cls, descriptor: int, complaint: str) -> "Package":
        first = next((info.name for info in entries(descriptor) if info.isreg() and "/" in info.name), "")
        name = first.partition("/")[0]
        return cls(name, cls.by_headers(descriptor, name), None, complaint)

    @staticmethod
    def by_headers(descriptor: int, name: str) -> dict[str, Member]:
        """Whole files beneath a folder of this name, by their headers alone, none of which says a checksum.

        Raises OSError; MalformedList where two have one name, or one leads out of the archive.
        """
        members, end = dict[str, Member](), os.fstat(descriptor).st_size
        for info in entries(descriptor):
            folder, _, path = info.name.partition("/")
            if folder == name and path and info.isreg() and info.offset_data + info.size <= end:
                if path in members:
                    raise MalformedList(f"the package holds two files called {path!r}")
                members[path] = _member(path, info)
        return members

    @staticmethod
    def read_member(
        descriptor: int,
        member: Member,
        consume: Callable[[memoryview], object],
        while_dropped: AbstractContextManager[object] | None = None,
    ) -> bool:
        """Feed every byte of a file to `consume`; says whether they came past this machine's caches. Raises OSError.

        while_dropped: held while its pages are dropped, which does not go where the ones beside them are being written
        """
        own = os.open(f"/proc/self/fd/{descriptor}", os.O_RDONLY | os.O_CLOEXEC)  # how it is read is its own affair
        with while_dropped or nullcontext():
            medium = MediumReading(own, (member.at, member.size))
        try:
            medium.read(consume)
        finally:
            medium.close()
        return medium.past_caches


def folders_above(path: str) -> list[str]:
    """The folders that a path leads through.

    >>> folders_above("DCIM/100AAAAA/AAAA0001.JPG")
    ['DCIM', 'DCIM/100AAAAA']
    """
    parts = path.split("/")
    return ["/".join(parts[:n]) for n in range(1, len(parts))]


def entries(descriptor: int) -> Iterator[tarfile.TarInfo]:
    """Every entry of an archive, up to where it ends or is damaged. Raises MalformedList where one leads out of it."""
    archive = _Bounded(descriptor)
    try:
        with tarfile.open(fileobj=archive, mode="r:", encoding="utf-8", errors="surrogateescape") as found:
            for info in found:
                name = info.name.rstrip("/")
                if not _is_plain(name) or info.issparse():
                    raise MalformedList(f"the package holds {info.name!r}, which is no plain file of a roll")
                found.members = []  # type: ignore[attr-defined]  # it keeps them all
                yield info
    except (tarfile.TarError, ValueError, OverflowError, RecursionError):
        return  # what comes behind is not known: those that were found are told


def _is_plain(name: str) -> bool:
    try:
        return bool(parts_of(name))
    except UnsafePath:
        return False


def _member(path: str, info: tarfile.TarInfo) -> Member:
    try:
        modified_ns = form.time_of(info.pax_headers["mtime"])
    except (KeyError, ValueError):
        modified_ns = int(info.mtime) * 10**9
    return Member(path, info.offset_data, info.size, modified_ns, info.mode)


def _part(descriptor: int, at: int, size: int, past_caches: bool) -> bytes:
    if not past_caches:
        return os.pread(descriptor, size, at)
    held = bytearray()
    Package.read_member(descriptor, Member("", at, size, 0), held.extend)
    return bytes(held)


class _Bounded(io.RawIOBase, BinaryIO):
    """A file of which nobody reads much at once, whatever a header says; the descriptor stays open."""

    def __init__(self, descriptor: int) -> None:
        super().__init__()
        self._descriptor, self._at = descriptor, 0
        self._size = os.fstat(descriptor).st_size

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def read(self, size: int = -1) -> bytes:
        if not 0 <= size <= _MOST_HEADER:
            raise tarfile.ReadError("a header is too long to be one")
        content = os.pread(self._descriptor, size, self._at)
        self._at += len(content)
        return content

    def seek(self, offset: int, whence: int = os.SEEK_SET) -> int:
        self._at = offset + (0 if whence == os.SEEK_SET else self._at if whence == os.SEEK_CUR else self._size)
        return self._at

    def tell(self) -> int:
        return self._at


def opened(path: str) -> int:
    """A package to read from, links not followed. Raises OSError."""
    return os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_NOFOLLOW | os.O_CLOEXEC)
