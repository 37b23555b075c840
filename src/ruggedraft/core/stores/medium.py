"""Reading a file from its medium rather than from this machine's memory."""

import ctypes
import errno
import fcntl
import mmap
import os

from ..evidence import Evidence
from .port import Consume

_CHUNK = 1 << 20  # bytes; a multiple of every block size in use, as direct I/O asks


def read_past_caches(descriptor: int, consume: Consume) -> Evidence:
    """Feed a whole open file to `consume`. Raises OSError; a file that shrinks meanwhile is EIO.

    Direct I/O (open(2), O_DIRECT) does not look at the page cache at all. Where a file system has none, the
    pages are dropped (posix_fadvise(2)) and the kernel is asked whether they are really gone (mincore(2)).
    """
    os.fsync(descriptor)  # dirty pages cannot be dropped
    os.posix_fadvise(descriptor, 0, 0, os.POSIX_FADV_DONTNEED)
    size = os.fstat(descriptor).st_size
    if size == 0:
        return Evidence.READ_BACK
    past_caches = _set_direct(descriptor) or resident_pages(descriptor, size) == 0
    with mmap.mmap(-1, _CHUNK) as buffer, memoryview(buffer) as view:
        offset = 0
        while offset < size:
            count = os.preadv(descriptor, [view], offset)
            if count == 0:
                raise OSError(errno.EIO, os.strerror(errno.EIO))
            consume(view[:count])
            offset += count
    return Evidence.READ_BACK if past_caches else Evidence.WRITTEN


def _set_direct(descriptor: int) -> bool:
    """Switch to direct I/O if this file system can, and show with one read that it really does."""
    flags = fcntl.fcntl(descriptor, fcntl.F_GETFL)
    try:
        fcntl.fcntl(descriptor, fcntl.F_SETFL, flags | os.O_DIRECT)
        with mmap.mmap(-1, mmap.PAGESIZE) as page:
            os.preadv(descriptor, [page], 0)
    except OSError as error:
        if error.errno not in (errno.EINVAL, errno.EOPNOTSUPP):
            raise
        fcntl.fcntl(descriptor, fcntl.F_SETFL, flags)
        return False
    return True


def resident_pages(descriptor: int, size: int) -> int:
    """How many pages of a file the kernel holds in memory (mincore(2))."""
    libc = ctypes.CDLL(None, use_errno=True)
    libc.mmap.restype = ctypes.c_void_p
    libc.mmap.argtypes = [ctypes.c_void_p, ctypes.c_size_t, *[ctypes.c_int] * 3, ctypes.c_long]
    address = libc.mmap(None, size, mmap.PROT_READ, mmap.MAP_SHARED, descriptor, 0)
    if address == ctypes.c_void_p(-1).value:
        raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()))
    try:
        pages = (ctypes.c_ubyte * -(-size // mmap.PAGESIZE))()
        if libc.mincore(ctypes.c_void_p(address), ctypes.c_size_t(size), pages):
            raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()))
        return sum(page & 1 for page in pages)
    finally:
        libc.munmap(ctypes.c_void_p(address), ctypes.c_size_t(size))
