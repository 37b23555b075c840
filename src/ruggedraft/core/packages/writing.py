"""Writing a package: files are put behind one another as they come, and the whole is closed by its index."""

import errno
import hashlib
import os
import tarfile
import threading
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..files.confinement import shut
from ..files.medium import LARGE, drop_pages, set_direct
from ..hashing import Hasher
from . import form
from .form import Member
from .reading import Package, folders_above

_UNSYNCED = 64 << 20  # bytes
_ZEROS = bytes(1 << 20)
_TIMES = 315_619_200 * 10**9, 4_102_444_800 * 10**9
_STEP = 2 * 10**9
"""A time that every file system in use can hold: from 1980-01-02 to 2100-01-01, in steps of two seconds."""


@dataclass
class Region:
    """Where a file is being written. header: its first byte. size: bytes, as far as is known. ended: it has them all"""

    path: str
    header: int
    at: int
    size: int
    mode: int
    hasher: Hasher = field(default_factory=form.DIGEST.start)
    written: int = 0
    modified_ns: int = 0
    ended: bool = False


class PackageWriter:
    """One package that is not sealed yet. name: of the folder that its files lie in. Errors are OSError.

    descriptor: open for reading and writing; closing it is the caller's. before: files that stand in it already
    """

    def __init__(self, descriptor: int, name: str, before: Sequence[Member] = ()) -> None:
        self._descriptor, self._name = descriptor, name
        self._made: dict[str, bytes] = {}
        self._end = 0
        self.members = {one.path: one for one in self._as_we_write(before)}
        self.folders = {above for path in self.members for above in folders_above(path)}
        self._lock = threading.Lock()  # files are added by one thread, and named or taken out by another
        self.still = threading.Lock()
        """Held by whoever writes; and by whoever wants that nobody does."""
        self._left_out = 0
        self._unsynced = 0
        os.ftruncate(descriptor, self._end)
        self._direct = os.open(f"/proc/self/fd/{descriptor}", os.O_WRONLY | os.O_CLOEXEC)
        self._is_direct = set_direct(self._direct)

    def _as_we_write(self, before: Sequence[Member]) -> Iterator[Member]:
        """Of what an earlier run left, as long as each header is what we would write, to the byte.

        It is sealed with these; what is behind the first that is not is written again.
        """
        for one in sorted(before, key=lambda one: one.at):
            if one.at - form.header_room(f"{self._name}/{one.path}") != self._end or not self._is_headed(one):
                return
            self._end = one.at + one.size + form.after(one.at + one.size)
            yield one

    def close(self) -> None:
        """What is not sealed stays as it is; whatever is asked afterwards is refused. May be called twice."""
        with self._lock:
            direct, self._direct, self._descriptor = self._direct, -1, -1
        if direct >= 0:
            shut(direct)

    def begin(self, path: str, size: int, mode: int | None) -> Region:
        """Room for a file, behind everything that is there. More may come than was said only to the last one."""
        with self._lock:
            room = form.header_room(f"{self._name}/{path}")
            region = Region(path, self._end, self._end + room, size, 0o644 if mode is None else mode)
            self._end = self._end_of(region)
            return region

    @staticmethod
    def _end_of(region: Region) -> int:
        end = region.at + region.size
        return end + form.after(end)

    def write(self, region: Region, data: bytes | bytearray | memoryview) -> None:
        """The next bytes of a file."""
        self._grow(region, len(data))
        region.hasher.update(data)
        rest, at = memoryview(data), region.at + region.written
        while rest:
            with self.still:
                count = self._write_some(rest, at)
            rest, at = rest[count:], at + count
        region.written += len(data)
        self._unsynced += len(data)
        if self._unsynced >= _UNSYNCED:
            os.fdatasync(self._descriptor)
            self._unsynced = 0

    def _write_some(self, data: memoryview, at: int) -> int:
        whole = len(data) // form.PAGE * form.PAGE
        if self._is_direct and whole >= LARGE and at % form.PAGE == 0:
            try:
                return os.pwrite(self._direct, data[:whole], at)
            except OSError as error:
                if error.errno != errno.EINVAL:  # the memory that it comes from is not at a page
                    raise
                self._is_direct = False
        return os.pwrite(self._descriptor, data, at)

    def skip(self, region: Region, count: int) -> None:
        """So many zeros, which nobody writes: the package has a hole there."""
        self._grow(region, count)
        for n in range(0, count, len(_ZEROS)):
            region.hasher.update(memoryview(_ZEROS)[: count - n])
        region.written += count

    def _fit(self, region: Region) -> None:
        """To what came of it. Raises OSError where that is less than was said and something is behind it already."""
        if region.written == region.size:
            return
        with self._lock:
            if self._end != self._end_of(region):
                raise OSError(errno.EIO, "less of the file came than it was said to have")
            region.size = region.written
            self._end = self._end_of(region)

    def _grow(self, region: Region, count: int) -> None:
        if region.written + count <= region.size:
            return
        with self._lock:
            if self._end != self._end_of(region):
                raise OSError(errno.EFBIG, "more of the file came than it was said to have")
            region.size = region.written + count
            self._end = self._end_of(region)

    def end(self, region: Region, modified_ns: int) -> None:
        """All of it was written. It is no part of the package before `add`."""
        self._fit(region)
        end = region.at + region.size
        with self.still:
            if form.after(end):
                os.pwrite(self._descriptor, form.rest_of_page(end), end)
            elif region.size:
                os.ftruncate(self._descriptor, max(os.fstat(self._descriptor).st_size, end))  # its end may be a hole
        region.modified_ns, region.ended = modified_ns, True

    def add(self, regions: Sequence[Region]) -> None:
        """Make what ended durable, then part of the package, in this order."""
        os.fdatasync(self._descriptor)
        with self.still:
            for region in regions:
                path = f"{self._name}/{region.path}"
                made = form.header(path, region.size, region.modified_ns, region.mode, region.at - region.header)
                os.pwrite(self._descriptor, made, region.header)
                self._made[region.path] = _hash_of(made)
        os.fdatasync(self._descriptor)
        with self._lock:
            for one in regions:
                checksum = one.hasher.hexdigest()
                self.members[one.path] = Member(one.path, one.at, one.size, one.modified_ns, one.mode, checksum)
                self.folders.update(folders_above(one.path))

    def drop(self, region: Region) -> None:
        """It is no part of the package, and never was."""
        with self._lock:
            if self._end == self._end_of(region):
                self._end = region.header
                os.ftruncate(self._descriptor, self._end)
            else:
                self._leave_out(region.header, region.at, region.size)

    def take_out(self, path: str) -> None:
        """A file is no part of it any more. Raises KeyError where there is none of this name."""
        with self._lock:
            gone = self.members.pop(path)
            room = form.header_room(f"{self._name}/{path}")
            self._leave_out(gone.at - room, gone.at, gone.size)

    def _leave_out(self, header: int, at: int, size: int) -> None:
        """Whoever unpacks it passes over these bytes: they are a file beside the roll's folder, called so."""
        self._left_out += 1
        made = form.header(f"{self._name}.left-out/{self._left_out}", size, 0, 0o644, at - header)
        os.pwrite(self._descriptor, made, header)
        end = at + size
        if form.after(end):
            os.pwrite(self._descriptor, form.rest_of_page(end), end)

    def forget(self) -> None:
        """Have the system let go of all that was written, so that it is read from the medium."""
        with self.still:
            drop_pages(self._descriptor, self._end)

    def seal(self, folders: Mapping[str, int | None]) -> int:
        """Close it: folders with their times, the list, the index, the last block. Returns the time it is to have.

        Index and headers have been read again when this returns. Raises OSError, MalformedList.
        """
        members = [self._known(self.members[path]) for path in sorted(self.members)]
        newest = max((one.modified_ns for one in members), default=0)
        newest = min(max(newest, _TIMES[0]), _TIMES[1]) // _STEP * _STEP
        with self._lock:
            tail = bytearray()
            for path in sorted(folders):
                when = folders[path]
                name = f"{self._name}/{path}" if path else self._name
                tail += form.header(f"{name}/", 0, newest if when is None else when, 0o755, kind=tarfile.DIRTYPE)
            tail += _plain(f"{self._name}.{form.DIGEST.name}", form.list_of(self._name, members), newest)
            index = form.index_of(self._name, newest, members)
            index_name = f"{self._name}.index.json"
            index_at = self._end + len(tail) + len(form.header(index_name, len(index), newest, 0o644))
            tail += _plain(index_name, index, newest)
            tail += _plain(f"{self._name}.end", form.last_block(index_at, index), newest)
            tail += bytes(form.LAST)
            _write_all(self._descriptor, tail, self._end)
            os.ftruncate(self._descriptor, self._end + len(tail))
            os.fsync(self._descriptor)
        self._require_as_meant({one.path: one for one in members})
        return newest

    def _require_as_meant(self, members: Mapping[str, Member]) -> None:
        """What is read back of the index; and, byte for byte, of all by which others find the files."""
        drop_pages(self._descriptor, os.fstat(self._descriptor).st_size)
        if Package.read(self._descriptor, indexed=True, past_caches=True).members != members:
            raise OSError(errno.EIO, "its index was read back otherwise than it was written")
        if not all(map(self._is_headed, members.values())):
            raise OSError(errno.EIO, "its headers were read back otherwise than they were written")
        if not self._is_without_gaps(members.values()):
            bare = {path: replace(one, mode=one.mode & 0o777, checksum="") for path, one in members.items()}
            if Package.by_headers(self._descriptor, self._name) != bare:
                raise OSError(errno.EIO, "what lies between its files was read back otherwise than it was written")

    def _is_headed(self, one: Member) -> bool:
        """With what stands behind the file up to the next page: a header that we understand may be none to others."""
        path = f"{self._name}/{one.path}"
        room, end = form.header_room(path), one.at + one.size
        rest = form.after(end)
        if rest and os.pread(self._descriptor, rest, end) != form.rest_of_page(end):
            return False
        there = os.pread(self._descriptor, room, one.at - room)
        made = self._made.get(one.path)
        if made is not None:
            return _hash_of(there) == made
        return there == form.header(path, one.size, one.modified_ns, one.mode, room)

    def _is_without_gaps(self, members: Iterable[Member]) -> bool:
        """Whether each file begins where the one before has ended, so that nothing of them stands between."""
        at = 0
        for one in sorted(members, key=lambda one: one.at):
            if one.at - form.header_room(f"{self._name}/{one.path}") != at:
                return False
            at = one.at + one.size + form.after(one.at + one.size)
        return at == self._end

    def _known(self, member: Member) -> Member:
        """With its checksum, which what an earlier run left has not."""
        if member.checksum:
            return member
        hasher = form.DIGEST.start()
        Package.read_member(self._descriptor, member, hasher.update)
        return replace(member, checksum=hasher.hexdigest())


def _hash_of(header: bytes) -> bytes:
    """Enough to know a header again."""
    return hashlib.blake2b(header, digest_size=16).digest()


def _write_all(descriptor: int, content: bytes | bytearray, at: int) -> None:
    rest = memoryview(content)
    while rest:
        count = os.pwrite(descriptor, rest, at)
        rest, at = rest[count:], at + count


def _plain(name: str, content: bytes, modified_ns: int) -> bytes:
    """A small file of ours, with its header."""
    return form.header(name, len(content), modified_ns, 0o644) + content.ljust(
        form.up_to(len(content), form.BLOCK), b"\0"
    )
