"""A store that is a folder of a mounted file system."""

import contextlib
import errno
import fcntl
import mmap
import os
import secrets
import shutil
import stat
import threading
from collections.abc import Iterator, Sequence
from pathlib import Path

from ..cards.source import FolderSource
from ..confinement import Folders, Root, parts_of, shut
from ..errors import Conflict, FileRefused, SourceVanished, StoreError, StoreVanished, store_error, why
from ..evidence import Evidence
from ..medium import (
    CHUNK,
    LARGE,
    MediumReading,
    can_sync_together,
    rename_to_free_name,
    set_direct,
    set_immutable,
    sync_together,
    unset_direct,
)
from .port import Consume, Data, Found, PendingFile, Room

PARTS = ".raft-parts"
"""Files on their way lie here, beside the copies, until they are whole. One folder a run, locked while it lives."""


_UNSYNCED = 64 << 20  # bytes


class LocalStore:
    """Bound to the folder found at first: an empty mount point is not the drive that was mounted there."""

    def __init__(self, name: str, path: Path) -> None:
        self.name = name
        try:
            self._root = Root.at(path)
        except OSError as error:
            raise StoreVanished(f"'{name}' is not at {path} ({why(error)})") from error
        self._folders = Folders(self._root)
        self._names = _Names()
        self._thread = threading.local()
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
        self._folders.forget()
        self._names = _Names()

    def room(self) -> Room:
        try:
            with self._root.opened() as root:
                facts = os.fstatvfs(root)
        except OSError as error:
            raise store_error(error, self.name) from error
        return Room(facts.f_bavail * facts.f_frsize, facts.f_blocks * facts.f_frsize)

    def found(self, path: str) -> Found | None:
        *folders, name = parts_of(path)
        try:
            if not self._names.may_be(tuple(folders), name, self._folders):
                return None
            with self._folders.at(tuple(folders)) as parent:
                facts = os.stat(name, dir_fd=parent, follow_symlinks=False)
        except FileNotFoundError:
            return None
        except OSError as error:
            raise store_error(error, self.name) from error
        return Found(stat.S_ISREG(facts.st_mode), facts.st_size)

    def write(self, path: str, size: int = 0, mode: int | None = None) -> "_LocalFile":
        parts_of(path)
        if self._run is None:
            raise RuntimeError("a store is written between open() and close()")
        try:
            return _LocalFile(self.name, self._run, path, size, mode)
        except OSError as error:
            raise store_error(error, self.name) from error

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        try:
            self._root.require()
        except OSError as error:
            for file in files:
                file.discard()
            return [store_error(error, self.name)] * len(files)
        ours = [file for file in files if isinstance(file, _LocalFile)]
        failed = self._sync(ours)
        return [failed.get(file) or self._place(file, replace=replace) for file in ours]

    def _sync(self, files: "Sequence[_LocalFile]") -> "dict[_LocalFile, StoreError]":
        """What could not be made durable: where files are synced together, nobody can tell which of them it was."""
        waiting = [file for file in files if file.waits_for_sync]
        if not waiting or self._run is None:
            return {}
        try:
            sync_together(self._run.parts)
        except OSError as error:
            for file in waiting:
                file.discard()
            return dict.fromkeys(waiting, store_error(error, self.name))
        return {}

    def _place(self, file: "_LocalFile", *, replace: bool) -> StoreError | None:
        *folders, name = parts_of(file.path)
        try:
            with self._folders.at(tuple(folders), make=True) as parent:
                file.give_name(name, parent, replace=replace)
                self._names.add(tuple(folders), name)
        except OSError as error:
            file.discard()
            if error.errno == errno.EEXIST:
                return Conflict(f"something else is under this name on '{self.name}'")
            return store_error(error, self.name)
        return None

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        try:
            for folder, modified_ns in folders:
                self._settle_one(parts_of(folder), modified_ns)
            if self._run and self._run.syncs_together:
                sync_together(self._run.parts)
        except OSError as error:
            raise store_error(error, self.name) from error

    def _settle_one(self, parts: tuple[str, ...], modified_ns: int | None) -> None:
        with self._root.folder(parts, make=True) as descriptor:
            if modified_ns is not None:
                os.utime(descriptor, ns=(modified_ns, modified_ns))
            if not (self._run and self._run.syncs_together):
                os.fsync(descriptor)

    def reading(self, path: str) -> "_LocalReading":
        *folders, name = parts_of(path)
        try:
            with self._folders.at(tuple(folders)) as parent:
                flags = os.O_RDONLY | os.O_NONBLOCK | os.O_NOFOLLOW | os.O_CLOEXEC
                descriptor = os.open(name, flags, dir_fd=parent)
        except FileNotFoundError as error:
            raise FileRefused(f"it is missing on '{self.name}'") from error
        except OSError as error:
            raise store_error(error, self.name) from error
        return _LocalReading(self.name, descriptor, self._scratch())

    def _scratch(self) -> memoryview:
        """A buffer of the calling thread's own."""
        if not hasattr(self._thread, "view"):
            self._thread.view = memoryview(mmap.mmap(-1, CHUNK))
        view: memoryview = self._thread.view
        return view

    def read_back(self, path: str, consume: Consume) -> Evidence:
        reading = self.reading(path)
        try:
            return reading.read(consume)
        finally:
            reading.close()

    def withdraw(self, path: str) -> None:
        *folders, name = parts_of(path)
        try:
            with self._root.folder(tuple(folders)) as parent:
                os.unlink(name, dir_fd=parent)
                os.fsync(parent)
        except OSError as error:
            raise store_error(error, self.name) from error

    def seal(self, path: str) -> None:
        with self._opened(path) as descriptor:
            mode = stat.S_IMODE(os.fstat(descriptor).st_mode)
            os.fchmod(descriptor, mode & ~0o222)
            set_immutable(descriptor, True)

    def unseal(self, path: str) -> None:
        with self._opened(path) as descriptor:
            set_immutable(descriptor, False)
            os.fchmod(descriptor, stat.S_IMODE(os.fstat(descriptor).st_mode) | 0o200)

    @contextlib.contextmanager
    def _opened(self, path: str) -> Iterator[int]:
        try:
            descriptor = self._root.open(path, os.O_RDONLY | os.O_NONBLOCK)
            try:
                yield descriptor
            finally:
                shut(descriptor)
        except OSError as error:
            raise store_error(error, self.name) from error

    def as_source(self, folder: str) -> FolderSource:
        try:
            self._root.require()
        except OSError as error:
            raise SourceVanished(f"'{self.name}' is not there any more ({why(error)})") from error
        return FolderSource(self._root.path / folder)


class _Names:
    """What stood in a folder when this run first looked into it, and what the run has put there since.

    Spares a look for each of thousands of files. What another program puts there meanwhile is found out when a
    file gets its name, which is never taken from anything.
    """

    def __init__(self) -> None:
        self._known: dict[tuple[str, ...], set[str]] = {}

    def may_be(self, folder: tuple[str, ...], name: str, folders: Folders) -> bool:
        known = self._known.get(folder)
        if known is None:
            try:
                with folders.at(folder) as descriptor:
                    known = set(os.listdir(descriptor))
            except FileNotFoundError:
                known = set()
            self._known[folder] = known
        return name in known

    def add(self, folder: tuple[str, ...], name: str) -> None:
        self._known.setdefault(folder, set()).add(name)


class _LocalReading:
    def __init__(self, store: str, descriptor: int, scratch: memoryview) -> None:
        self._store, self._scratch = store, scratch
        try:
            self._medium = MediumReading(descriptor)
        except OSError as error:
            shut(descriptor)
            raise store_error(error, store) from error

    def read(self, consume: Consume) -> Evidence:
        try:
            self._medium.read(consume, self._scratch)
        except OSError as error:
            raise store_error(error, self._store) from error
        return Evidence.READ_BACK if self._medium.past_caches else Evidence.WRITTEN

    def close(self) -> None:
        self._medium.close()


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
        self.syncs_together = can_sync_together(self.parts)
        self.umask = _umask()
        self._next = 0

    def new_part(self, mode: int) -> tuple[str, int]:
        self._next += 1
        name = str(self._next)
        flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC
        return name, os.open(name, flags, mode, dir_fd=self.parts)

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
            shut(self.parts)


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
            shut(run)


class _LocalFile:
    """Its part is closed as soon as it has ended, so that thousands may wait to be synced together."""

    def __init__(self, store: str, run: _Run, path: str, size: int, mode: int | None) -> None:
        self.path, self.waits_for_sync = path, False
        self._store, self._run = store, run
        wanted = 0o644 if mode is None else mode & 0o777 | 0o600  # we can always read and write what is ours
        self._part, self._descriptor = run.new_part(wanted)
        self._direct = size >= LARGE and set_direct(self._descriptor)
        self._mode = wanted if mode is not None and wanted & run.umask else None
        self._written, self._unsynced, self._gone = 0, 0, False

    def write(self, data: Data) -> None:
        rest = memoryview(data)
        try:
            while rest:
                rest = rest[self._write_some(rest) :]
        except OSError as error:
            raise store_error(error, self._store) from error
        self._written += len(data)
        self._bound_what_waits(len(data))

    def _bound_what_waits(self, count: int) -> None:
        """Where bytes go through memory, a last sync of a large file would take minutes during which nothing shows."""
        self._unsynced = 0 if self._direct else self._unsynced + count
        if self._unsynced >= _UNSYNCED:
            self._unsynced = 0
            try:
                os.fdatasync(self._descriptor)
            except OSError as error:
                raise store_error(error, self._store) from error

    def _write_some(self, data: memoryview) -> int:
        try:
            return os.write(self._descriptor, data)
        except OSError as error:
            if not self._direct or error.errno != errno.EINVAL:
                raise
        self._direct = False  # not a multiple of the block size, as at the end of most files
        unset_direct(self._descriptor)
        return os.write(self._descriptor, data)

    def end(self, modified_ns: int) -> None:
        try:
            if self._mode is not None:
                _allow(self._descriptor, self._mode)
            os.utime(self._descriptor, ns=(modified_ns, modified_ns))
            self.waits_for_sync = self._run.syncs_together
            if not self.waits_for_sync:
                os.fsync(self._descriptor)
            self._close()
        except OSError as error:
            self.discard()
            raise store_error(error, self._store) from error

    def give_name(self, name: str, parent: int, *, replace: bool) -> None:
        """Raises OSError; EEXIST if something stands there."""
        self._close()
        if replace:
            os.rename(self._part, name, src_dir_fd=self._run.parts, dst_dir_fd=parent)
            os.fsync(parent)
        else:
            _name_if_free(self._part, self._run.parts, name, parent)
        self._gone = True

    def discard(self) -> None:
        if self._gone:
            return
        self._gone = True
        try:
            self._close()
            os.unlink(self._part, dir_fd=self._run.parts)
        except OSError:
            pass  # the store is gone, and the part with it

    def _close(self) -> None:
        if self._descriptor >= 0:
            descriptor, self._descriptor = self._descriptor, -1
            os.close(descriptor)


def _allow(descriptor: int, mode: int) -> None:
    """Permissions as on the card, where the store knows such."""
    with contextlib.suppress(PermissionError):  # file systems of cameras know none
        os.fchmod(descriptor, mode)


def _umask() -> int:
    """What this process takes from the permissions of new files (proc(5), status). It can be asked only there."""
    try:
        told = Path("/proc/self/status").read_text(encoding="ascii", errors="replace")
    except OSError:
        return 0o777
    return next((int(line.split()[1], 8) for line in told.splitlines() if line.startswith("Umask:")), 0o777)


def _name_if_free(old: str, old_folder: int, new: str, new_folder: int) -> None:
    """Rename unless the new name is taken (EEXIST), in one step where the file system has that."""
    try:
        rename_to_free_name(old, old_folder, new, new_folder)
        return
    except OSError as error:
        if error.errno not in (errno.EINVAL, errno.ENOSYS):
            raise
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
