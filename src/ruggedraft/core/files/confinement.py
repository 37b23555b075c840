"""The one door to the file system: relative paths, opened step by step beneath a root, links never followed.

Paths are `str` with `/` between parts, relative to a root, in Python's surrogate-escaped form, so that any name
a file system can hold (also one that is not valid UTF-8) survives unchanged.
"""

import errno
import os
import stat
import threading
import weakref
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from ..errors import UnsafePath

_NO_NAMES = frozenset({"", ".", ".."})
_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC


def shut(descriptor: int) -> None:
    """Close what was only read or looked at: whatever the system answers, nothing is lost by it (close(2))."""
    try:  # noqa: SIM105 - done for every one of thousands of files, and suppress() costs more than the call
        os.close(descriptor)
    except OSError:
        pass


def parts_of(path: str) -> tuple[str, ...]:
    """Split a relative path, refusing every form that could lead somewhere else.

    >>> parts_of("DCIM/100AAAAA/AAAA0001.JPG")
    ('DCIM', '100AAAAA', 'AAAA0001.JPG')
    """
    parts = tuple(path.split("/"))
    if "\0" in path or not _NO_NAMES.isdisjoint(parts):
        raise UnsafePath(f"{path!r} is not a path inside the folder it belongs to")
    return parts


@dataclass(frozen=True)
class Root:
    """A folder by path and by identity: the same path with something else behind it is not the same root.

    That matters: when a drive is unmounted its mount point becomes an ordinary folder of the system disk, and
    when a card is swapped its slot shows another card.
    """

    path: Path
    device: int
    inode: int

    @classmethod
    def at(cls, path: Path) -> "Root":
        """Raises OSError where there is no folder."""
        facts = path.stat()
        if not stat.S_ISDIR(facts.st_mode):
            raise NotADirectoryError(errno.ENOTDIR, os.strerror(errno.ENOTDIR), str(path))
        return cls(path, facts.st_dev, facts.st_ino)

    def require(self) -> None:
        """Raises ENODEV when the path has gone or leads somewhere else now."""
        try:
            facts = os.stat(self.path)  # noqa: PTH116 - through `os`, where every call of the core can be made to fail
        except (FileNotFoundError, NotADirectoryError) as error:
            raise OSError(errno.ENODEV, os.strerror(errno.ENODEV)) from error
        if (facts.st_dev, facts.st_ino) != (self.device, self.inode):
            raise OSError(errno.ENODEV, os.strerror(errno.ENODEV))

    @contextmanager
    def opened(self) -> Iterator[int]:
        """The root folder's descriptor; ENODEV when the path has gone or leads somewhere else now."""
        try:
            folder = os.open(self.path, _FOLDER)
        except (FileNotFoundError, NotADirectoryError) as error:
            raise OSError(errno.ENODEV, os.strerror(errno.ENODEV)) from error
        try:
            facts = os.fstat(folder)
            if (facts.st_dev, facts.st_ino) != (self.device, self.inode):
                raise OSError(errno.ENODEV, os.strerror(errno.ENODEV))
            yield folder
        finally:
            shut(folder)

    @contextmanager
    def folder(self, parts: tuple[str, ...], *, make: bool = False) -> Iterator[int]:
        """The descriptor of a folder beneath the root, made on the way if asked."""
        with self.opened() as root:
            current = os.dup(root)
            try:
                for part in parts:
                    if make:
                        _make_folder(part, current)
                    following = os.open(part, _FOLDER | os.O_NOFOLLOW, dir_fd=current)
                    shut(current)
                    current = following
                yield current
            finally:
                shut(current)

    def open(self, path: str, flags: int) -> int:
        """Open a file beneath the root. A link anywhere on the way gives ELOOP or ENOTDIR."""
        *folders, name = parts_of(path)
        with self.folder(tuple(folders)) as parent:
            return os.open(name, flags | os.O_NOFOLLOW | os.O_CLOEXEC, 0o644, dir_fd=parent)

    def lstat(self, path: str) -> os.stat_result | None:
        """What stands under that name, links not followed; None if nothing does."""
        *folders, name = parts_of(path)
        try:
            with self.folder(tuple(folders)) as parent:
                return os.stat(name, dir_fd=parent, follow_symlinks=False)
        except FileNotFoundError:
            return None


class Folders:
    """Folders beneath a root that stay open from one use to the next: files come many to a folder.

    Whether the root is still what it was is asked when a folder is opened; in between that is the caller's to ask
    (`Root.require`), as often as it matters. Threads may share one; it closes with its last user.
    """

    def __init__(self, root: Root, keep: int = 16) -> None:
        self.root = root
        self._keep = keep
        self._held: OrderedDict[tuple[str, ...], _Held] = OrderedDict()
        self._lock = threading.Lock()
        weakref.finalize(self, _close_all, self._held)

    @contextmanager
    def at(self, parts: tuple[str, ...], *, make: bool = False) -> Iterator[int]:
        """The descriptor of a folder, made on the way if asked; not to be used after the block."""
        held = self._hold(parts, make)
        try:
            yield held.descriptor
        finally:
            with self._lock:
                held.users -= 1

    def _hold(self, parts: tuple[str, ...], make: bool) -> "_Held":
        with self._lock:
            held = self._held.get(parts)
            if held:
                self._held.move_to_end(parts)
                held.users += 1
                return held
        with self.root.folder(parts, make=make) as found:
            opened = _Held(os.dup(found), 1)
        with self._lock:
            held = self._held.setdefault(parts, opened)
            if held is not opened:  # another thread was first
                shut(opened.descriptor)
                held.users += 1
            self._close_some()
        return held

    def _close_some(self) -> None:
        idle = [parts for parts, held in self._held.items() if not held.users]
        for parts in idle[: max(0, len(self._held) - self._keep)]:
            shut(self._held.pop(parts).descriptor)

    def forget(self) -> None:
        """Close what nobody uses now."""
        with self._lock:
            for parts in [parts for parts, held in self._held.items() if not held.users]:
                shut(self._held.pop(parts).descriptor)


@dataclass
class _Held:
    descriptor: int
    users: int


def _close_all(held: "OrderedDict[tuple[str, ...], _Held]") -> None:
    for one in held.values():
        shut(one.descriptor)
    held.clear()


def _make_folder(name: str, parent: int) -> None:
    try:
        os.mkdir(name, dir_fd=parent)
    except FileExistsError:
        return
    os.fsync(parent)
