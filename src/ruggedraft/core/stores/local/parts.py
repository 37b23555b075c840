"""Files on their way to a folder store: written under temporary names, renamed once whole and synced."""

import contextlib
import errno
import fcntl
import os
import secrets
import shutil
import time
from pathlib import Path

from ...errors import store_error
from ...files.confinement import Root, shut
from ...files.medium import LARGE, can_sync_together, rename_to_free_name, set_direct, sync_together, unset_direct
from ..port import Data, PendingFile, Whole

PARTS = ".raft-parts"
"""Files on their way lie here, beside the copies, until they are whole. One folder a run, locked while it lives."""

NOTES = ".proven"
"""Ending of what runs write down there for those that go on with them: see `notes`."""
_KEPT_S = 24 * 3600
_UNSYNCED = 64 << 20  # bytes
_NEW = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC


class RunFolder:
    """This run's own folder of parts, locked so that others can tell whether we still live. Raises OSError."""

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
        self._umask = _umask()
        self._next = 0

    def write_small(self, file: Whole) -> "PartFile":
        """Write a small file; it is synced with others where that can be done, otherwise at once."""
        part, descriptor = self.new_part(file.path, file.mode)
        data, mode = file.data, file.mode
        try:
            written = os.write(descriptor, data) if data else 0
            while written < len(data):
                written += os.write(descriptor, data[written:])
            self.end(descriptor, mode, file.modified_ns)
        except OSError:
            shut(descriptor)
            part.discard()
            raise
        try:
            os.close(descriptor)
        except OSError:  # some file systems tell here that the bytes did not arrive
            part.discard()
            raise
        return part

    def new_part(self, path: str, mode: int | None) -> "tuple[PartFile, int]":
        """A new file for what shall stand under `path`, and its descriptor."""
        self._next += 1
        name = str(self._next)
        return PartFile(self, name, path), os.open(name, _NEW, _allowed(mode), dir_fd=self.parts)

    def end(self, descriptor: int, mode: int | None, modified_ns: int) -> None:
        """Permissions and time as on the card, and durable unless that is done for many files together."""
        if mode is not None and _allowed(mode) & self._umask:
            with contextlib.suppress(PermissionError):  # file systems of cameras know no permissions
                os.fchmod(descriptor, _allowed(mode))
        os.utime(descriptor, ns=(modified_ns, modified_ns))
        if not self.syncs_together:
            os.fsync(descriptor)

    def sync(self) -> None:
        """Make what has ended durable. Where it fails, nobody can tell which file it was."""
        if self.syncs_together:
            sync_together(self.parts)

    def clear(self) -> None:
        """Never raises."""
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


def _allowed(mode: int | None) -> int:
    """We can always read and write what is ours."""
    return 0o644 if mode is None else mode & 0o777 | 0o600


def _umask() -> int:
    """What this process takes from the permissions of new files (proc(5), status). It can be asked only there."""
    try:
        told = Path("/proc/self/status").read_text(encoding="ascii", errors="replace")
    except OSError:
        return 0o777
    return next((int(line.split()[1], 8) for line in told.splitlines() if line.startswith("Umask:")), 0o777)


def _clear_dead_runs(parts: int) -> None:
    for name in os.listdir(parts):
        if name.endswith(NOTES):
            _clear_old(name, parts)
            continue
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


def _clear_old(name: str, parts: int) -> None:
    """Nobody goes on with a run that ended a day ago."""
    with contextlib.suppress(OSError):
        if os.stat(name, dir_fd=parts, follow_symlinks=False).st_mtime < time.time() - _KEPT_S:
            os.unlink(name, dir_fd=parts)


class PartFile:
    """A file without its final name. path: the one it shall have."""

    __slots__ = ("_gone", "_name", "_run", "path")

    def __init__(self, run: RunFolder, name: str, path: str) -> None:
        self._run, self._name, self.path = run, name, path
        self._gone = False

    def give_name(self, name: str, parent: int, *, replace: bool) -> None:
        """Raises OSError; EEXIST if something stands there."""
        if replace:
            os.rename(self._name, name, src_dir_fd=self._run.parts, dst_dir_fd=parent)
            os.fsync(parent)
        else:
            name_if_free(self._name, self._run.parts, name, parent)
        self._gone = True

    def discard(self) -> None:
        """Remove it, unless it was committed. Never raises."""
        if self._gone:
            return
        self._gone = True
        with contextlib.suppress(OSError):  # otherwise the store is gone, and the part with it
            os.unlink(self._name, dir_fd=self._run.parts)


class OpenPart(PendingFile):
    """A part that is being written piece by piece: the store's `PendingFile`. Closed as soon as it has ended."""

    def __init__(self, store: str, run: RunFolder, path: str, size: int, mode: int | None) -> None:
        self._store, self._run, self._mode = store, run, mode
        self.part, self._descriptor = run.new_part(path, mode)
        self._direct = size >= LARGE and set_direct(self._descriptor)
        self._unsynced = 0

    def write(self, data: Data) -> None:
        """A large file goes past the caches where it can; else what waits to be synced is kept small."""
        rest = memoryview(data)
        try:
            while rest:
                rest = rest[self._write_some(rest) :]
            self._bound_what_waits(len(data))
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

    def _bound_what_waits(self, count: int) -> None:
        """Where bytes go through memory, a last sync of a large file would take minutes during which nothing shows."""
        self._unsynced = 0 if self._direct else self._unsynced + count
        if self._unsynced >= _UNSYNCED:
            self._unsynced = 0
            os.fdatasync(self._descriptor)

    def skip(self, count: int) -> None:
        """A hole, which takes no room."""
        try:
            os.ftruncate(self._descriptor, os.lseek(self._descriptor, count, os.SEEK_CUR))
        except OSError as error:
            raise store_error(error, self._store) from error

    def end(self, modified_ns: int) -> None:
        """Sets time and permissions and closes it; it is synced when it is committed, together with others."""
        try:
            self._run.end(self._descriptor, self._mode, modified_ns)
            descriptor, self._descriptor = self._descriptor, -1
            os.close(descriptor)
        except OSError as error:
            self.discard()
            raise store_error(error, self._store) from error

    def discard(self) -> None:
        """Also one that is still being written."""
        if self._descriptor >= 0:
            shut(self._descriptor)
            self._descriptor = -1
        self.part.discard()


def name_if_free(old: str, old_folder: int, new: str, new_folder: int) -> None:
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


class EndedPart(PendingFile):
    """A small file that is written and has ended: the store's `PendingFile` for it."""

    __slots__ = ("part",)

    def __init__(self, part: PartFile) -> None:
        self.part = part

    def write(self, data: Data) -> None:
        """Raises RuntimeError: it has ended."""
        raise RuntimeError("this file has ended")

    def skip(self, count: int) -> None:
        """Raises RuntimeError: it has ended."""
        raise RuntimeError("this file has ended")

    def end(self, modified_ns: int) -> None:
        """It has ended already."""
        pass

    def discard(self) -> None:
        """Removes its part."""
        self.part.discard()
