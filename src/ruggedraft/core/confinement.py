"""The one door to the file system: relative paths, opened step by step beneath a root, links never followed.

Paths are `str` with `/` between parts, relative to a root, in Python's surrogate-escaped form, so that any name
a file system can hold (also one that is not valid UTF-8) survives unchanged.
"""

import errno
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from .errors import UnsafePath

_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC


def parts_of(path: str) -> tuple[str, ...]:
    """Split a relative path, refusing every form that could lead somewhere else.

    >>> parts_of("DCIM/100AAAAA/AAAA0001.JPG")
    ('DCIM', '100AAAAA', 'AAAA0001.JPG')
    """
    parts = tuple(path.split("/"))
    if not path or "\0" in path or any(part in ("", ".", "..") for part in parts):
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
            os.close(folder)

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
                    os.close(current)
                    current = following
                yield current
            finally:
                os.close(current)

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


def _make_folder(name: str, parent: int) -> None:
    try:
        os.mkdir(name, dir_fd=parent)
    except FileExistsError:
        return
    os.fsync(parent)
