"""A store that is a folder in which each copy is one sealed file: see `core.packages`."""

import contextlib
import fcntl
import os
import stat
import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import count
from pathlib import Path

from ...errors import (
    Conflict,
    FileMissing,
    FileRefused,
    MalformedList,
    SourceVanished,
    StoreError,
    StoreStopped,
    StoreVanished,
    store_error,
    why,
)
from ...evidence import Evidence
from ...files.confinement import Root, parts_of, shut
from ...files.medium import keeps_more, set_immutable
from ...packages.form import UNFINISHED, Member, name_of, package_name
from ...packages.reading import Package
from ...packages.source import PackageSource
from ...packages.writing import PackageWriter, Region
from ...sources.port import CardSource
from ...turns import Turns
from ..local import LocalStore
from ..local.parts import name_if_free
from ..port import Consume, Data, Found, PendingFile, Room, Store, ToRead
from .held import HeldCopy, HeldPart
from .packed import PackedFile

_SEALED = "its sealed package on '{}' is never changed"
_MOVE_IT = f"{_SEALED}: move the package away, check this copy, and have it brought there anew"
_BUSY = "another run is writing {} on '{}': wait for its end, and run again"


@dataclass
class _Writing:
    """The package that this run adds to. path: where it will stand"""

    path: str
    descriptor: int
    writer: PackageWriter


class PackageStore(Store):
    """What belongs to a copy goes into its package; what lies beside a copy is a plain file.

    A package is called UNFINISHED until its run ends; a run that was cut short goes on with it. What a roll gets after
    its package was sealed goes into a further one. Sealed packages are read, and never written.
    """

    closes = True

    def __init__(self, beside: LocalStore, path: Path) -> None:
        """beside: the folder as a store of plain files."""
        self.name, self._beside = beside.name, beside
        try:
            self._root = Root.at(path)
        except OSError as error:
            raise StoreVanished(f"'{self.name}' is not at {path} ({why(error)})") from error
        self._folder = ""
        self._before = HeldCopy()
        self._writing: _Writing | None = None
        self._copies: dict[str, HeldCopy] = {}
        self._lock = threading.RLock()  # one thread writes, another names and reads back

    def open(self, turns: Turns | None = None) -> None:
        """As of plain files; a package is begun when the first file for it comes."""
        self._beside.open(turns)

    def begin(self, folder: str) -> None:
        """From now on files beneath this folder go into a package. Raises StoreStopped where another run writes it."""
        self._folder = folder
        with self._told():
            self._before = self._copy_at(folder)
            unfinished = self._next_name() + UNFINISHED
            if self._root.lstat(unfinished) is not None:
                self._go_on(unfinished)

    def close(self) -> None:
        """A package that was not sealed stays unfinished, for the run that goes on with it; an empty one goes."""
        with self._lock, contextlib.suppress(OSError):
            if self._writing and not self._writing.writer.members:
                self._unlink(self._writing.path + UNFINISHED)
        self._let_go()
        self._folder, self._copies = "", {}
        self._beside.close()

    def room(self) -> Room:
        """Of the folder."""
        return self._beside.room()

    # Finding

    @contextlib.contextmanager
    def _told(self) -> Iterator[None]:
        """What the system, or a package, says is told as of a store."""
        try:
            with self._lock:
                yield
        except OSError as error:
            raise store_error(error, self.name) from error
        except MalformedList as error:
            raise FileRefused(f"a package on '{self.name}' cannot be read: {error}") from error

    def _copy_at(self, folder: str) -> HeldCopy:
        """What stands sealed for a copy now. Raises OSError, MalformedList."""
        known = self._copies.setdefault(folder, HeldCopy())
        parts: list[HeldPart] = []
        for number in count(1):
            path = package_name(folder, number)
            facts = self._root.lstat(path)
            if facts is None or not stat.S_ISREG(facts.st_mode):
                break
            seen = facts.st_dev, facts.st_ino, facts.st_size, facts.st_mtime_ns
            before = next((part for part in known.parts if (part.path, part.seen) == (path, seen)), None)
            parts.append(before or self._read(path, folder, seen))
        known.parts = parts
        return known

    def _read(self, path: str, folder: str, seen: tuple[int, int, int, int]) -> HeldPart:
        descriptor = self._root.open(path, os.O_RDONLY | os.O_NONBLOCK)
        try:
            package = Package.read(descriptor)
        finally:
            shut(descriptor)
        if package.name != name_of(folder):
            raise MalformedList(f"{path} is no package of {name_of(folder)}")
        return HeldPart(path, seen, package)

    def _split(self, path: str) -> tuple[str, str]:
        """Which copy's package a path belongs into, and its path there; ("", path) for what lies beside copies."""
        parts = parts_of(path)
        if self._folder and path.startswith(f"{self._folder}/"):
            return self._folder, path.removeprefix(f"{self._folder}/")
        for n in range(1, len(parts)):
            folder = "/".join(parts[:n])
            if self._root.lstat(package_name(folder)) is not None:
                return folder, "/".join(parts[n:])
        return "", path

    def _is_a_copy(self, folder: str) -> bool:
        return bool(folder) and (folder == self._folder or self._root.lstat(package_name(folder)) is not None)

    def _here(self, folder: str, inside: str) -> Member | None:
        """Of the package that is being written."""
        return self._writing.writer.members.get(inside) if self._writing and folder == self._folder else None

    def _sealed(self, folder: str) -> HeldCopy:
        """What this run writes nobody else adds to, so that it need not be asked for again."""
        return self._before if folder == self._folder else self._copy_at(folder)

    def found(self, path: str) -> Found | None:
        """In a package, a folder is there with the first file beneath it."""
        with self._told():
            folder, inside = self._split(path)
            if not folder:
                return Found(False, 0) if self._is_a_copy(path) else self._beside.found(path)
            member = self._here(folder, inside) or self._sealed(folder).member(inside)
            if member:
                return Found(True, member.size)
            return Found(False, 0) if self._has_folder(folder, inside) else None

    def _has_folder(self, folder: str, inside: str) -> bool:
        of_mine = self._writing is not None and folder == self._folder and inside in self._writing.writer.folders
        return of_mine or self._sealed(folder).has_folder(inside)

    # Writing

    def _next_name(self) -> str:
        """Of the package that comes behind those that are sealed."""
        return package_name(self._folder, len(self._before.parts) + 1)

    def write(self, path: str, size: int = 0, mode: int | None = None) -> PendingFile:
        """Behind what is in the package. Raises FileRefused where that of another copy is meant."""
        with self._told():
            folder, inside = self._split(path)
            if not folder:
                return self._beside.write(path, size, mode)
            if folder != self._folder:
                raise FileRefused(_SEALED.format(self.name))
            writing = self._writing or self._start()
            return PackedFile(self.name, writing.writer, writing.writer.begin(inside, size, mode))

    def _start(self) -> _Writing:
        path = self._next_name()
        with self._root.folder(parts_of(path)[:-1], make=True):
            return self._take(path, os.O_CREAT | os.O_EXCL)

    def _go_on(self, unfinished: str) -> None:
        self._take(unfinished.removesuffix(UNFINISHED), 0)

    def _take(self, path: str, flags: int) -> _Writing:
        """Nothing of what an earlier run left in it is believed: it is read like any file that stands there."""
        descriptor = self._root.open(path + UNFINISHED, os.O_RDWR | os.O_NONBLOCK | flags)
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
            before = list(Package.by_headers(descriptor, name_of(self._folder)).values())
            self._writing = _Writing(path, descriptor, PackageWriter(descriptor, name_of(self._folder), before))
        except BlockingIOError as error:
            shut(descriptor)
            raise StoreStopped(_BUSY.format(path, self.name)) from error
        except BaseException:
            shut(descriptor)
            raise
        return self._writing

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """All that go into the package at once, and what goes beside it as plain files do."""
        plain = [file for file in files if not isinstance(file, PackedFile)]
        told = iter(self._beside.commit(plain, replace=replace)) if plain else iter(())
        packed = iter(self._add([file for file in files if isinstance(file, PackedFile)], replace=replace))
        return [next(packed if isinstance(file, PackedFile) else told) for file in files]

    def _add(self, files: Sequence["PackedFile"], *, replace: bool) -> list[StoreError | None]:
        if not files:
            return []
        outcome: list[StoreError | None] = []
        try:
            with self._told():
                self._root.require()
                going = list[Region]()
                for file in files:
                    error = self._taken(file.region.path, {one.path for one in going}, replace=replace)
                    outcome.append(error)
                    if error is None:
                        going.append(file.region)
                files[0].writer.add(going)
        except StoreError as error:
            outcome = [error] * len(files)
        for file, problem in zip(files, outcome, strict=True):
            file.discard() if problem else file.added()
        return outcome

    def _taken(self, inside: str, now: set[str], *, replace: bool) -> StoreError | None:
        if self._before.find(inside):
            return FileRefused(_SEALED.format(self.name)) if replace else self._conflict()
        if self._here(self._folder, inside) and replace and self._writing:
            self._writing.writer.take_out(inside)
        return self._conflict() if inside in now or self._here(self._folder, inside) else None

    def _conflict(self) -> Conflict:
        return Conflict(f"something else is under this name on '{self.name}'")

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Seals the package that was written: from then on it stands under its name, and is never changed."""
        inside = f"{self._folder}/"
        with self._told():
            if self._writing and self._writing.writer.members:
                self._seal({path.removeprefix(inside): when for path, when in folders if path.startswith(inside)})
        self._beside.settle([(path, when) for path, when in folders if not self._lies_within(path)])

    def _lies_within(self, path: str) -> bool:
        with self._told():
            return bool(self._split(path)[0]) or self._is_a_copy(path)

    def _seal(self, folders: Mapping[str, int | None]) -> None:
        writing = self._writing
        if writing is None:
            return
        sealed_ns = writing.writer.seal(folders)
        os.utime(writing.descriptor, ns=(sealed_ns, sealed_ns))
        os.fsync(writing.descriptor)
        *above, name = parts_of(writing.path)
        with self._root.folder(tuple(above)) as parent:
            name_if_free(name + UNFINISHED, parent, name, parent)
            os.fsync(parent)
        os.fchmod(writing.descriptor, 0o444)  # last: what does not get its name is opened for writing again
        self._let_go()
        self._before = self._copy_at(self._folder)

    def _let_go(self) -> None:
        if self._writing:
            self._writing.writer.close()
            shut(self._writing.descriptor)
            self._writing = None

    def _unlink(self, path: str) -> None:
        *above, name = parts_of(path)
        with self._root.folder(tuple(above)) as parent:
            os.unlink(name, dir_fd=parent)

    # Reading

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """The pages that a file lies on are its own: those are dropped, and the kernel is asked whether they were."""
        with self._told():
            folder, inside = self._split(path)
            descriptor, member = self._opened(folder, inside) if folder else (-1, None)
            still = self._writing.writer.still if self._writing and folder == self._folder else None
        if member is None:
            return self._beside.read_back(path, consume)
        try:
            past_caches = Package.read_member(descriptor, member, consume, still) and not keeps_more(descriptor)
        except OSError as error:
            raise store_error(error, self.name) from error
        finally:
            shut(descriptor)
        return Evidence.READ_BACK if past_caches else Evidence.WRITTEN

    def read_back_small(
        self, files: Sequence[ToRead], consume: Callable[[int, Data], object]
    ) -> list[Evidence | StoreError]:
        """What was just written is let go of once for all of them."""
        with contextlib.suppress(OSError):  # then it shows when each of them is read
            if self._writing:
                self._writing.writer.forget()
        return super().read_back_small(files, consume)

    def _opened(self, folder: str, inside: str) -> tuple[int, Member]:
        here = self._here(folder, inside)
        if here and self._writing:
            return os.dup(self._writing.descriptor), here
        found = self._sealed(folder).find(inside)
        if found is None:
            raise FileMissing(f"it is missing on '{self.name}'")
        self._root.require()
        return self._root.open(found[0].path, os.O_RDONLY | os.O_NONBLOCK), found[1]

    def read_whole(self, path: str, most: int) -> bytes | None:
        """Of a package, or beside it."""
        found = self.found(path)
        if found is None or not self._lies_within(path):
            return self._beside.read_whole(path, most)
        if not found.is_file or found.size > most:
            raise FileRefused(f"{path} on '{self.name}' is not one of ours; it was left alone")
        held = bytearray()
        self.read_back(path, held.extend)
        return bytes(held)

    def look(self, folder: str) -> Mapping[str, tuple[int, int | None]]:
        """By the packages' indexes, and by what their files are now. In a folder above, packages are files."""
        with self._told():
            self._root.require()
            if folder and self._is_a_copy(folder):
                found = self._files_of(folder)
                self._root.require()
                return found
        return self._of_all(folder)

    def _files_of(self, folder: str) -> dict[str, tuple[int, int | None]]:
        found: dict[str, tuple[int, int | None]] = {}
        for part in reversed(self._copy_at(folder).parts):
            found |= {path: (one.size, part.time_of(one)) for path, one in part.package.members.items()}
        if self._writing and folder == self._folder:
            found |= {path: (one.size, one.modified_ns) for path, one in self._writing.writer.members.items()}
        return found

    def _of_all(self, folder: str) -> dict[str, tuple[int, int | None]]:
        found: dict[str, tuple[int, int | None]] = dict(self._beside.look(folder))
        for path in [path for path in found if path.endswith(UNFINISHED)]:
            del found[path]
        return found

    def as_source(self, folder: str) -> CardSource:
        """Of a copy, its packages as one card."""
        try:
            with self._told():
                parts = self._copy_at(folder).parts if folder else []
        except StoreError as error:
            raise SourceVanished(error.sentence) from error
        if not parts:
            return self._beside.as_source(folder)
        return PackageSource([self._root.path / part.path for part in parts])

    # Changing what stands

    def withdraw(self, path: str) -> None:
        """Out of a package only as long as it is not sealed."""
        with self._told():
            folder, inside = self._split(path)
            if not folder:
                return self._beside.withdraw(path)
            if not self._here(folder, inside) or not self._writing:
                gone = self._copy_at(folder).find(inside) is None
                raise FileMissing(f"it is missing on '{self.name}'") if gone else FileRefused(_SEALED.format(self.name))
            return self._writing.writer.take_out(inside)

    def set_aside(self, path: str) -> str:
        """Only what lies beside packages."""
        with self._told():
            if self._split(path)[0]:
                raise FileRefused(_MOVE_IT.format(self.name))
        return self._beside.set_aside(path)

    def seal(self, path: str) -> None:
        """Packages are read-only anyway; here the whole of it gets the flag that forbids any change."""
        with self._told():
            folder, inside = self._split(path)
            descriptor = self._opened(folder, inside)[0] if folder else -1
        if descriptor < 0:
            return self._beside.seal(path)
        try:
            set_immutable(descriptor, True)
        finally:
            shut(descriptor)

    def unseal(self, path: str) -> None:
        """A package stays sealed."""
        with self._told():
            inside = bool(self._split(path)[0])
        if not inside:
            self._beside.unseal(path)
