"""A store that is a folder of a mounted file system."""

import ctypes
import errno
import fcntl
import os
import secrets
import shutil
import stat
from pathlib import Path

from ..confinement import Root, parts_of
from ..errors import Conflict, FileRefused, StoreVanished, store_error, why
from ..evidence import Evidence
from .medium import read_past_caches
from .port import Consume, Data, Found, Room

PARTS = ".raft-parts"
"""Files on their way lie here, beside the copies, until they are whole. One folder a run, locked while it lives."""

_RENAME_NOREPLACE = 1  # renameat2(2)


class LocalStore:
    """Bound to the folder found at first: an empty mount point is not the drive that was mounted there."""

    def __init__(self, name: str, path: Path) -> None:
        self.name = name
        try:
            self._root = Root.at(path)
        except OSError as error:
            raise StoreVanished(f"'{name}' is not at {path} ({why(error)})") from error
        self._run: _Run | None = None

    def open(self) -> None:
        try:
            self._run = _Run(self._root)
        except OSError as error:
            raise store_error(error, self.name) from error

    def close(self) -> None:
        if self._run:
            self._run.end()
            self._run = None

    def room(self) -> Room:
        try:
            with self._root.opened() as root:
                facts = os.fstatvfs(root)
        except OSError as error:
            raise store_error(error, self.name) from error
        return Room(facts.f_bavail * facts.f_frsize, facts.f_blocks * facts.f_frsize)

    def found(self, path: str) -> Found | None:
        try:
            facts = self._root.lstat(path)
        except OSError as error:
            raise store_error(error, self.name) from error
        return Found(stat.S_ISREG(facts.st_mode), facts.st_size) if facts else None

    def write(self, path: str) -> "_LocalFile":
        parts_of(path)
        if self._run is None:
            raise RuntimeError("a store is written between open() and close()")
        try:
            return _LocalFile(self, self._run, path)
        except OSError as error:
            raise store_error(error, self.name) from error

    def settle(self, folder: str, modified_ns: int | None) -> None:
        try:
            with self._root.folder(parts_of(folder), make=True) as descriptor:
                if modified_ns is not None:
                    os.utime(descriptor, ns=(modified_ns, modified_ns))
                os.fsync(descriptor)
        except OSError as error:
            raise store_error(error, self.name) from error

    def read_back(self, path: str, consume: Consume) -> Evidence:
        try:
            descriptor = self._root.open(path, os.O_RDONLY | os.O_NONBLOCK)
        except FileNotFoundError as error:
            raise FileRefused(f"it is missing on '{self.name}'") from error
        except OSError as error:
            raise store_error(error, self.name) from error
        try:
            return read_past_caches(descriptor, consume)
        except OSError as error:
            raise store_error(error, self.name) from error
        finally:
            os.close(descriptor)

    def withdraw(self, path: str) -> None:
        *folders, name = parts_of(path)
        try:
            with self._root.folder(tuple(folders)) as parent:
                os.unlink(name, dir_fd=parent)
                os.fsync(parent)
        except OSError as error:
            raise store_error(error, self.name) from error

    def place(self, run: "_Run", part: str, path: str, *, replace: bool) -> None:
        """Give a finished part its final name. Raises OSError; EEXIST if something stands there."""
        *folders, name = parts_of(path)
        with self._root.folder(tuple(folders), make=True) as parent:
            if replace:
                os.rename(part, name, src_dir_fd=run.parts, dst_dir_fd=parent)
            else:
                _rename_to_free_name(part, run.parts, name, parent)
            if replace:
                os.fsync(parent)


class _Run:
    """This run's own folder of parts, locked so that others can tell whether we still live."""

    def __init__(self, root: Root) -> None:
        self._root = root
        self._name = secrets.token_hex(8)
        with root.folder((PARTS,), make=True) as parts:
            fcntl.flock(parts, fcntl.LOCK_EX)
            _clear_dead_runs(parts)
            os.mkdir(self._name, 0o700, dir_fd=parts)
            self.parts = os.open(self._name, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC, dir_fd=parts)
            fcntl.flock(self.parts, fcntl.LOCK_EX)
        self._next = 0

    def new_part(self) -> tuple[str, int]:
        self._next += 1
        name = str(self._next)
        flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC
        return name, os.open(name, flags, 0o644, dir_fd=self.parts)

    def end(self) -> None:
        try:
            with self._root.folder((PARTS,)) as parts:
                fcntl.flock(parts, fcntl.LOCK_EX)
                shutil.rmtree(self._name, ignore_errors=True, dir_fd=parts)
            with self._root.opened() as root:
                os.rmdir(PARTS, dir_fd=root)
        except OSError:
            pass  # the store is gone, or another run is using the folder; the next run clears up
        finally:
            os.close(self.parts)


def _clear_dead_runs(parts: int) -> None:
    for name in os.listdir(parts):
        try:
            run = os.open(name, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=parts)
        except OSError:
            continue
        try:
            fcntl.flock(run, fcntl.LOCK_EX | fcntl.LOCK_NB)
            shutil.rmtree(name, ignore_errors=True, dir_fd=parts)
        except BlockingIOError:
            pass  # alive
        finally:
            os.close(run)


class _LocalFile:
    def __init__(self, store: LocalStore, run: _Run, path: str) -> None:
        self._store, self._run, self._path = store, run, path
        self._part, self._descriptor = run.new_part()
        self._open = True

    def write(self, data: Data) -> None:
        rest = memoryview(data)
        try:
            while rest:
                rest = rest[os.write(self._descriptor, rest) :]
        except OSError as error:
            raise store_error(error, self._store.name) from error

    def commit(self, modified_ns: int, *, replace: bool = False) -> None:
        try:
            os.utime(self._descriptor, ns=(modified_ns, modified_ns))
            os.fsync(self._descriptor)
            self._store.place(self._run, self._part, self._path, replace=replace)
        except FileExistsError as error:
            self.discard()
            raise Conflict(f"something else is under this name on '{self._store.name}'") from error
        except OSError as error:
            self.discard()
            raise store_error(error, self._store.name) from error
        self._open = False
        os.close(self._descriptor)

    def discard(self) -> None:
        if not self._open:
            return
        self._open = False
        try:
            os.unlink(self._part, dir_fd=self._run.parts)
        except OSError:
            pass  # the store is gone, and the part with it
        finally:
            os.close(self._descriptor)


def _rename_to_free_name(old: str, old_folder: int, new: str, new_folder: int) -> None:
    """Rename unless the new name is taken (EEXIST), in one step where the file system has that."""
    libc = ctypes.CDLL(None, use_errno=True)
    words = (old_folder, os.fsencode(old), new_folder, os.fsencode(new), _RENAME_NOREPLACE)
    if libc.renameat2(*words) == 0:
        return
    code = ctypes.get_errno()
    if code not in (errno.EINVAL, errno.ENOSYS):
        raise OSError(code, os.strerror(code))
    try:
        os.link(old, new, src_dir_fd=old_folder, dst_dir_fd=new_folder)
    except OSError as error:
        if error.errno not in (errno.EPERM, errno.EOPNOTSUPP, errno.ENOSYS):
            raise
        _rename_after_looking(old, old_folder, new, new_folder)
    else:
        os.unlink(old, dir_fd=old_folder)


def _rename_after_looking(old: str, old_folder: int, new: str, new_folder: int) -> None:
    """For file systems that can neither rename to a free name nor link: two runs into one folder could race
    here, and the read-back that follows is what would tell."""
    try:
        os.stat(new, dir_fd=new_folder, follow_symlinks=False)
    except FileNotFoundError:
        os.rename(old, new, src_dir_fd=old_folder, dst_dir_fd=new_folder)
        return
    raise OSError(errno.EEXIST, os.strerror(errno.EEXIST))
