"""A store that is a folder of a mounted file system."""

import contextlib
import errno
import mmap
import os
import stat
import threading
from collections.abc import Callable, Iterator, Sequence
from itertools import groupby
from pathlib import Path

from ...errors import (
    Conflict,
    FileMissing,
    FileRefused,
    SourceVanished,
    StoreError,
    StoreStopped,
    StoreVanished,
    store_error,
    why,
)
from ...evidence import Evidence
from ...files.confinement import Folders, Root, parts_of, shut
from ...files.medium import (
    CHUNK,
    MediumReading,
    set_immutable,
    sync_together,
)
from ...files.systems import is_kept_closed
from ...sources.folder import FolderSource
from ...turns import Turns
from ..aside import free_place
from ..port import Consume, Data, Found, PendingFile, Room, Store, ToRead, Whole
from .names import Names
from .notes import LocalNotes
from .parts import EndedPart, OpenPart, PartFile, RunFolder, name_if_free
from .reading_small import ReadingSmall
from .tidying import tidy

_READ = os.O_RDONLY | os.O_NONBLOCK | os.O_NOFOLLOW | os.O_CLOEXEC


class LocalStore(Store):
    """Bound to the folder found at first: an empty mount point is not the drive that was mounted there."""

    moves = True

    def __init__(self, name: str, path: Path) -> None:
        try:
            root = Root.at(path)
        except OSError as error:
            raise StoreVanished(f"'{name}' is not at {path} ({why(error)})") from error
        self._be(name, root)

    def __getstate__(self) -> tuple[str, Root]:
        return self.name, self._root

    def __setstate__(self, state: tuple[str, Root]) -> None:
        self._be(*state)

    def _be(self, name: str, root: Root) -> None:
        self.name, self._root = name, root
        self._folders = Folders(self._root)
        self._names = Names()
        self._thread = threading.local()
        self._run: RunFolder | None = None
        self._notes: list[LocalNotes] = []
        self._turns = Turns()

    def open(self, turns: Turns | None = None) -> None:
        """Parts are written into a folder of the run's own, which is locked while the run lives."""
        self._turns = turns or Turns()
        try:
            self._run = RunFolder(self._root)
        except OSError as error:
            raise store_error(error, self.name) from error

    def notes(self, folder: str) -> LocalNotes:
        """Beside the parts, closed with the store."""
        self._notes.append(LocalNotes(self.name, self._root, self._folders, folder))
        return self._notes[-1]

    def close(self) -> None:
        """Removes the run's folder with whatever was never committed."""
        while self._notes:
            self._notes.pop().close()
        if self._run:
            self._run.clear()
            self._run = None
        self._folders.forget()
        self._names = Names()

    def room(self) -> Room:
        """What this process may use of the file system: fstatvfs(3)."""
        try:
            with self._root.opened() as root:
                facts = os.fstatvfs(root)
        except OSError as error:
            raise store_error(error, self.name) from error
        return Room(facts.f_bavail * facts.f_frsize, facts.f_blocks * facts.f_frsize)

    def found(self, path: str) -> Found | None:
        """A folder's names are read once a run; a name that was seen or made is looked at each time."""
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

    def write(self, path: str, size: int = 0, mode: int | None = None) -> OpenPart:
        """Into the run's folder, on the same file system, so that naming it later is one step."""
        parts_of(path)
        try:
            return OpenPart(self.name, self._running(), path, size, mode)
        except OSError as error:
            raise store_error(error, self.name) from error

    def write_whole(self, files: Sequence[Whole]) -> list[PendingFile | StoreError]:
        """In one turn of the interpreter; once the store has stopped, what is left is not tried."""
        run, written = self._running(), list[PendingFile | StoreError]()
        with self._turns.mine():
            for file in files:
                parts_of(file.path)
                if written and isinstance(written[-1], StoreStopped):
                    written.append(written[-1])
                    continue
                try:
                    written.append(EndedPart(run.write_small(file)))
                except OSError as error:
                    written.append(store_error(error, self.name))
        return written

    def _running(self) -> RunFolder:
        if self._run is None:
            raise RuntimeError("a store is written between open() and close()")
        return self._run

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Syncs all at once where the file system can, then renames each: never over another file unless told to."""
        ours = [file.part for file in files if isinstance(file, OpenPart | EndedPart)]
        try:
            self._root.require()
            self._running().sync()
        except OSError as error:
            for part in ours:
                part.discard()
            return [store_error(error, self.name)] * len(ours)
        failed: list[StoreError | None] = []
        with self._turns.mine():
            for folder, group in groupby(ours, _folder_of):
                failed += self._place(folder, list(group), replace=replace)
        return failed

    def _place(self, folder: str, group: list[PartFile], *, replace: bool) -> list[StoreError | None]:
        """Give parts their names in one folder."""
        key, failed = parts_of(folder) if folder else (), list[StoreError | None]()
        try:
            with self._folders.at(key, make=True) as parent:
                for part in group:
                    failed.append(self._name(part, key, parent, replace=replace))
        except OSError as error:
            for part in group:
                part.discard()
            return [store_error(error, self.name)] * len(group)
        return failed

    def _name(self, part: PartFile, folder: tuple[str, ...], parent: int, *, replace: bool) -> StoreError | None:
        name = part.path.rpartition("/")[2]
        try:
            part.give_name(name, parent, replace=replace)
        except OSError as error:
            part.discard()
            if error.errno == errno.EEXIST:
                return Conflict(f"something else is under this name on '{self.name}'")
            return store_error(error, self.name)
        self._names.add(folder, name)
        return None

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Syncs the file system once where that can be relied on, else folder by folder."""
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

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """Drops the file's pages first and asks the kernel whether it did; READ_BACK only if so."""
        try:
            medium = MediumReading(self._open(path))
            try:
                medium.read(consume, self._scratch())
            finally:
                medium.close()
        except FileNotFoundError as error:
            raise FileMissing(f"it is missing on '{self.name}'") from error
        except OSError as error:
            raise store_error(error, self.name) from error
        return Evidence.READ_BACK if medium.past_caches else Evidence.WRITTEN

    def _open(self, path: str) -> int:
        folder, _, name = path.rpartition("/")
        with self._folders.at(parts_of(folder) if folder else ()) as parent:
            return os.open(name, _READ, dir_fd=parent)

    def read_back_small(
        self, files: Sequence[ToRead], consume: Callable[[int, Data], object]
    ) -> list[Evidence | StoreError]:
        """One window of files is being fetched by the system while the one before it is looked at."""
        with self._turns.mine() as turn:
            return ReadingSmall(self.name, self._folders, self._scratch(), turn).read(files, consume)

    def _scratch(self) -> memoryview:
        """A buffer of the calling thread's own."""
        if not hasattr(self._thread, "view"):
            self._thread.view = memoryview(mmap.mmap(-1, CHUNK))
        view: memoryview = self._thread.view
        return view

    def look(self, folder: str) -> dict[str, tuple[int, int]]:
        """All that `each_there` tells."""
        return dict(self.each_there(folder))

    def each_there(self, folder: str) -> Iterator[tuple[str, tuple[int, int]]]:
        """The store's root is looked at before and after: a drive that went away meanwhile looks empty, and is not."""
        told = False
        try:
            self._root.require()
            for one in self._facts_in(parts_of(folder) if folder else (), ""):
                told = True
                yield one
            self._root.require()
        except FileNotFoundError:
            self._require_nothing_at(folder, told=told)
        except OSError as error:
            raise store_error(error, self.name) from error

    def _require_nothing_at(self, folder: str, *, told: bool) -> None:
        """The store is there, the folder is not, and nothing was told of it. Raises StoreError."""
        try:
            self._root.require()
        except OSError as error:
            raise StoreVanished(f"'{self.name}' is not there any more ({why(error)})") from error
        if told or self.found(folder) is not None:
            raise StoreError(f"{folder} on '{self.name}' changed while it was looked at: look again")

    def _facts_in(self, parts: tuple[str, ...], inside: str) -> Iterator[tuple[str, tuple[int, int]]]:
        folders, files = [], []
        with self._root.folder(parts) as descriptor, os.scandir(descriptor) as entries:
            for entry in entries:
                if entry.is_dir(follow_symlinks=False):
                    folders.append(entry.name)
                elif entry.is_file(follow_symlinks=False):
                    facts = entry.stat(follow_symlinks=False)
                    files.append((inside + entry.name, (facts.st_size, facts.st_mtime_ns)))
        yield from sorted(files)  # they are looked up among a card's, which stand in path order
        for name in sorted(folders):
            try:
                yield from self._facts_in((*parts, name), f"{inside}{name}/")
            except OSError as error:
                if parts or not is_kept_closed(name, error):
                    raise

    def read_whole(self, path: str, most: int) -> bytes | None:
        """A link, folder or anything else that is no plain file is refused and left alone."""
        try:
            descriptor = self._root.open(path, _READ)
        except FileNotFoundError:
            return None
        except OSError as error:
            raise store_error(error, self.name) from error
        try:
            facts = os.fstat(descriptor)
            if not stat.S_ISREG(facts.st_mode) or facts.st_size > most:
                raise FileRefused(f"{path} on '{self.name}' is not one of ours; it was left alone")
            with open(descriptor, "rb", closefd=False) as file:
                return file.read()
        except OSError as error:
            raise store_error(error, self.name) from error
        finally:
            shut(descriptor)

    def set_aside(self, path: str) -> str:
        """By renaming, to a name that is free; durable when it returns."""
        *folders, name = parts_of(path)
        aside = free_place(path, lambda place: self.found(place) is not None)
        *to, new = parts_of(aside)
        try:
            with self._root.folder(tuple(folders)) as old_parent, self._root.folder(tuple(to), make=True) as new_parent:
                name_if_free(name, old_parent, new, new_parent)
                os.fsync(new_parent)
                os.fsync(old_parent)
        except OSError as error:
            raise store_error(error, self.name) from error
        self._names = Names()
        return aside

    def withdraw(self, path: str) -> None:
        """Durable when it returns."""
        *folders, name = parts_of(path)
        try:
            with self._root.folder(tuple(folders)) as parent:
                os.unlink(name, dir_fd=parent)
                os.fsync(parent)
        except OSError as error:
            raise store_error(error, self.name) from error

    def tidy(self, folder: str) -> None:
        """By removing what the system says is empty; a folder that somebody puts something into meanwhile stays."""
        tidy(self._root, parts_of(folder))
        self._names = Names()

    def seal(self, path: str) -> None:
        """Takes the permission to write from everybody and sets the immutable flag where the file system has it."""
        with self._at(path) as descriptor:
            mode = stat.S_IMODE(os.fstat(descriptor).st_mode)
            os.fchmod(descriptor, mode & ~0o222)
            set_immutable(descriptor, True)

    def unseal(self, path: str) -> None:
        """Takes the flag away and lets the owner write."""
        with self._at(path) as descriptor:
            set_immutable(descriptor, False)
            os.fchmod(descriptor, stat.S_IMODE(os.fstat(descriptor).st_mode) | 0o200)

    @contextlib.contextmanager
    def _at(self, path: str) -> Iterator[int]:
        try:
            descriptor = self._root.open(path, os.O_RDONLY | os.O_NONBLOCK)
            try:
                yield descriptor
            finally:
                shut(descriptor)
        except OSError as error:
            raise store_error(error, self.name) from error

    def as_source(self, folder: str) -> FolderSource:
        """Bound to the folder that is there now."""
        try:
            self._root.require()
        except OSError as error:
            raise SourceVanished(f"'{self.name}' is not there any more ({why(error)})") from error
        return FolderSource(self._root.path / folder)


def _folder_of(part: PartFile) -> str:
    return part.path.rpartition("/")[0]
