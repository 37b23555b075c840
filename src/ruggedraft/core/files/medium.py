"""What the operating system offers for reaching a medium rather than this machine's memory."""

import ctypes
import errno
import fcntl
import mmap
import os
import stat
import struct
import sys
from collections.abc import Callable
from pathlib import Path

from ..machine.mount_table import caches_on_disk, read_mounts
from .confinement import shut

LARGE = 1 << 20  # bytes
"""From this size on files go past the page cache both ways; below it one direct access costs more than the copying."""
CHUNK = 4 << 20  # bytes; a multiple of every block size in use, as direct I/O asks
_CACHESTAT = 451  # its number on every architecture that Python runs on, but Alpha
_GET_FLAGS, _SET_FLAGS, _IMMUTABLE = 0x80086601, 0x40086602, 0x10  # linux/fs.h
_FUSE, _TMPFS = 0x65735546, 0x01021994
_FROM_SERVERS = {0x6969, 0xFF534D42, 0xFE534D42, 0x517B, 0x00C36400, 0x01021997, 0x5346414F}
"""NFS, CIFS, SMB2, SMB, Ceph, 9P, AFS. Numbers from statfs(2) and linux/magic.h; Ceph's from memory."""
_KNOWN = {
    0xEF53: "ext4", 0x58465342: "xfs", 0x9123683E: "btrfs", 0xF2F52010: "f2fs", 0x4D44: "vfat",
    0x2011BAB0: "exfat", _TMPFS: "tmpfs",
}  # fmt: skip
"""File systems that keep their own pages, and whose syncfs(2) writes everything and tells of errors.

Numbers from statfs(2) and linux/magic.h.
"""

_Cachestat = ctypes.c_uint64 * 5
_Statfs = ctypes.c_long * 32
"""More than it has; `f_type` is its first (statfs(2))."""

_libc = ctypes.CDLL(None, use_errno=True)
_libc.mmap.restype = ctypes.c_void_p
_libc.mmap.argtypes = [ctypes.c_void_p, ctypes.c_size_t, *[ctypes.c_int] * 3, ctypes.c_long]


class MediumReading:
    """An open file whose pages have been dropped, so that what is read of it comes from its medium.

    `past_caches` is the kernel's own account: no page of the file was in memory when its reading began.
    Owns the descriptor. Errors are OSError.
    """

    def __init__(self, descriptor: int, part: tuple[int, int] | None = None) -> None:
        """part: where it begins and how many bytes it has, of a file of which no more is to be read."""
        self._descriptor, self._part = descriptor, part
        try:
            self._begin()
        except OSError:
            self.close()
            raise

    def _begin(self) -> None:
        descriptor = self._descriptor
        facts = os.fstat(descriptor)
        if not stat.S_ISREG(facts.st_mode):
            raise OSError(errno.EINVAL, "it is not a file")
        self._at, self._size = self._part or (0, facts.st_size)
        self.past_caches = drop_pages(descriptor, self._size, self._at) and not keeps_more(descriptor)
        self._direct = self._size >= LARGE and self._at % mmap.PAGESIZE == 0 and set_direct(descriptor)
        if not self._direct:
            os.posix_fadvise(descriptor, self._at, self._size if self._part else 0, os.POSIX_FADV_WILLNEED)

    def read(self, consume: Callable[[memoryview], object], scratch: memoryview | None = None) -> int:
        """Feed it whole to `consume` and say how many bytes it has. A file that shrinks meanwhile is EIO.

        scratch: whole pages of memory to read through, where they are lent
        """
        if not self._size or scratch:
            self._feed(scratch or memoryview(b""), consume)
            return self._size
        length = min(CHUNK, -(-self._size // mmap.PAGESIZE) * mmap.PAGESIZE)
        self._feed(memoryview(mmap.mmap(-1, length)), consume)  # it goes with its last user, who may be in an error
        return self._size

    def _feed(self, view: memoryview, consume: Callable[[memoryview], object]) -> None:
        offset = 0
        while offset < self._size:
            left = self._size - offset
            pages = view if left > len(view) else view[: -(-left // mmap.PAGESIZE) * mmap.PAGESIZE]
            count = min(self._read_at(pages, self._at + offset), left)  # of a part no more than it has
            if count == 0:
                raise OSError(errno.EIO, os.strerror(errno.EIO))
            consume(view[:count])
            offset += count

    def _read_at(self, view: memoryview, offset: int) -> int:
        try:
            return os.preadv(self._descriptor, [view], offset)
        except OSError as error:
            if not self._direct or error.errno != errno.EINVAL:
                raise
        self._direct = False  # a short answer has left an offset that direct I/O does not take
        unset_direct(self._descriptor)
        return os.preadv(self._descriptor, [view], offset)

    def close(self) -> None:
        """Close the file; may be called twice."""
        if self._descriptor >= 0:
            shut(self._descriptor)
            self._descriptor = -1


def drop_pages(descriptor: int, size: int, at: int = 0) -> bool:
    """Have the kernel forget a file's pages, and ask it whether it did. Raises OSError.

    at: where in the file the `size` bytes begin. Whole pages go, also those that it shares with what lies beside it.
    Not all that this machine keeps of some file systems is in those pages: see `keeps_more`.
    """
    if not size:
        return True
    begins = at // mmap.PAGESIZE * mmap.PAGESIZE
    length = -(-(at + size - begins) // mmap.PAGESIZE) * mmap.PAGESIZE if at else 0  # 0: to the end of the file
    os.posix_fadvise(descriptor, begins, length, os.POSIX_FADV_DONTNEED)
    if cached_pages(descriptor, at + size - begins, begins):
        os.fsync(descriptor)  # dirty pages cannot be dropped
        os.posix_fadvise(descriptor, 0, 0, os.POSIX_FADV_DONTNEED)  # nor less than what the kernel keeps as one piece
        if cached_pages(descriptor, at + size - begins, begins):
            return False
    return True


def keeps_more(descriptor: int) -> bool:
    """Whether this machine may keep what it read where dropping a file's pages does not reach. Raises OSError.

    So it is with a file system in user space, whose process reads its device through our caches, and with one from a
    server that is mounted with a cache on a local disk (FS-Cache).
    """
    number = file_system_number(descriptor)
    if number not in _FROM_SERVERS:
        return number == _FUSE
    device = os.fstat(descriptor).st_dev
    mounts = read_mounts(Path("/proc/self/mountinfo").read_bytes())
    mine = (mount for mount in mounts if mount.device == f"{os.major(device)}:{os.minor(device)}")
    return any(map(caches_on_disk, mine))


def set_direct(descriptor: int) -> bool:
    """Switch to direct I/O (open(2), O_DIRECT) if the file system has it."""
    flags = fcntl.fcntl(descriptor, fcntl.F_GETFL)
    try:
        fcntl.fcntl(descriptor, fcntl.F_SETFL, flags | os.O_DIRECT)
    except OSError as error:
        if error.errno not in (errno.EINVAL, errno.EOPNOTSUPP):
            raise
        return False
    return True


def unset_direct(descriptor: int) -> None:
    """Switch back from direct I/O."""
    flags = fcntl.fcntl(descriptor, fcntl.F_GETFL)
    fcntl.fcntl(descriptor, fcntl.F_SETFL, flags & ~os.O_DIRECT)


def read_now(descriptor: int, view: memoryview, offset: int) -> int:
    """Read what the system has at hand already (preadv2(2), RWF_NOWAIT): perhaps nothing. Raises OSError."""
    try:
        return os.preadv(descriptor, [view], offset, os.RWF_NOWAIT)
    except OSError as error:
        if error.errno not in (errno.EAGAIN, errno.EOPNOTSUPP, errno.ENOSYS):
            raise
    # a file system in memory cannot be asked so, and has everything at hand
    return os.preadv(descriptor, [view], offset) if file_system_number(descriptor) == _TMPFS else 0


def cached_pages(descriptor: int, size: int, at: int = 0) -> int:
    """How many pages of a file the kernel holds in memory: cachestat(2), on systems before Linux 6.5 mincore(2).

    A file system that lies on another one (overlay) keeps its pages there, where cachestat does not look.
    size, at: bytes, from which on; at the start of a file all of it is meant. `at` is a multiple of the page's size
    """
    answer, asked = _Cachestat(), struct.pack("QQ", at, size if at else 0)
    if file_system_number(descriptor) in _KNOWN and _libc.syscall(_CACHESTAT, descriptor, asked, answer, 0) == 0:
        return answer[0]
    return resident_pages(descriptor, size, at)


def resident_pages(descriptor: int, size: int, at: int = 0) -> int:
    """The same by mincore(2)."""
    address = _libc.mmap(None, size, mmap.PROT_READ, mmap.MAP_SHARED, descriptor, at)
    if address == ctypes.c_void_p(-1).value:
        _raise_errno()
    try:
        pages = (ctypes.c_ubyte * -(-size // mmap.PAGESIZE))()
        if _libc.mincore(ctypes.c_void_p(address), ctypes.c_size_t(size), pages):
            _raise_errno()
        return sum(page & 1 for page in pages)
    finally:
        _libc.munmap(ctypes.c_void_p(address), ctypes.c_size_t(size))


def file_system_number(descriptor: int) -> int:
    """The kind of file system a descriptor belongs to, as in linux/magic.h (fstatfs(2), f_type)."""
    answer = _Statfs()
    if _libc.fstatfs(descriptor, answer):
        _raise_errno()
    return answer[0] & 0xFFFFFFFF


def can_sync_together(descriptor: int) -> bool:
    """Whether `sync_together` says all there is to say: a known file system, and Linux 5.8, which tells of errors."""
    release = tuple(int(part) for part in os.uname().release.split("-")[0].split(".")[:2])
    return release >= (5, 8) and file_system_number(descriptor) in _KNOWN


def sync_together(folder: int) -> None:
    """Make everything that was written to a file system durable (syncfs(2)), and have its device empty its own cache.

    folder: open since before the writing began, so that errors since then are told. Raises OSError.
    """
    if _libc.syncfs(folder):
        _raise_errno()
    os.fsync(folder)  # some file systems tell the device only here


def rename_to_free_name(old: str, old_folder: int, new: str, new_folder: int) -> None:
    """renameat2(2) with RENAME_NOREPLACE. Raises OSError: EEXIST if taken, EINVAL or ENOSYS where there is no such."""
    if _libc.renameat2(old_folder, os.fsencode(old), new_folder, os.fsencode(new), 1):
        _raise_errno()


def set_immutable(descriptor: int, immutable: bool) -> bool:
    """Set or clear the flag that forbids any change (ioctl_iflags(2)); says whether it was."""
    try:
        flags = int.from_bytes(fcntl.ioctl(descriptor, _GET_FLAGS, bytes(4)), sys.byteorder)
        flags = flags | _IMMUTABLE if immutable else flags & ~_IMMUTABLE
        fcntl.ioctl(descriptor, _SET_FLAGS, flags.to_bytes(4, sys.byteorder))
    except OSError as error:
        if error.errno in (errno.ENOTTY, errno.EOPNOTSUPP, errno.EPERM, errno.EACCES, errno.EINVAL):
            return False
        raise
    return True


def _raise_errno() -> None:
    code = ctypes.get_errno()
    raise OSError(code, os.strerror(code))
