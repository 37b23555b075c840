"""A package as a card in a reader: listed, read, compared; never changed."""

import contextlib
import os
from collections.abc import Callable, Iterator, Sequence
from itertools import takewhile
from pathlib import Path

from ..errors import MalformedList, SourceError, SourceUnreadable, SourceVanished, source_error, why
from ..files.confinement import shut
from ..files.medium import LARGE, drop_pages
from ..sources.listing import Entry, EntryKind
from ..sources.port import CardSource, OpenFile, one_by_one
from .form import Member, parts_from
from .reading import Package, folders_above, opened

_NEVER = "it lies in a sealed package, which is never changed: it stays"


class PackageSource(CardSource):
    """One or several packages of a roll, as one card. Bound to the files found at first."""

    def __init__(self, paths: Sequence[Path]) -> None:
        """Raises SourceVanished where one is not there, and SourceUnreadable where it is no package."""
        self._files: list[int] = []
        self._held: dict[str, tuple[int, Member]] = {}
        self._paths, self._known = list(paths), list[tuple[int, int]]()
        try:
            for path in paths:
                self._open(path)
        except BaseException:
            self.__del__()
            raise

    @classmethod
    def at(cls, first: Path) -> "PackageSource":
        """With the packages beside it that hold what came to the roll later. Raises as making one does."""
        return cls([Path(path) for path in takewhile(os.path.isfile, parts_from(str(first)))] or [first])

    def _open(self, path: Path) -> None:
        try:
            descriptor = opened(str(path))
            self._files.append(descriptor)
            self._known.append(_who(os.fstat(descriptor)))
            package = Package.read(descriptor)
        except OSError as error:
            raise SourceVanished(f"There is no package at {path} ({why(error)}).") from error
        except MalformedList as error:
            raise SourceUnreadable(f"{path.name} is no package that can be read: {error}") from error
        if not package.members:
            raise SourceUnreadable(f"{path.name} holds no file that can be read: {package.complaint or 'it is empty'}")
        for name, member in package.members.items():
            self._held.setdefault(name, (descriptor, member))

    def __del__(self) -> None:
        for descriptor in self._files:
            shut(descriptor)
        self._files = []

    def walk(self) -> Iterator[Entry]:
        """Folders follow from the files' paths, and have no times of their own."""
        self.require()
        for folder in sorted({above for path in self._held for above in folders_above(path)}):
            yield Entry(folder, EntryKind.FOLDER)
        for path, (_, one) in self._held.items():
            yield Entry(path, EntryKind.FILE, one.size, one.modified_ns, mode=one.mode)

    def require(self) -> None:
        """The files found at first must be those that their paths lead to now."""
        for path, known in zip(self._paths, self._known, strict=True):
            try:
                if _who(path.lstat()) == known:
                    continue
            except OSError as error:
                raise SourceVanished(f"the package {path.name} is not there any more ({why(error)})") from error
            raise SourceVanished(f"another file is in the place of the package {path.name}")

    def open(self, path: str) -> "PackageFile":
        """Raises SourceUnreadable where the package holds none of this name."""
        if path not in self._held:
            raise SourceUnreadable("it is not in the package")
        descriptor, member = self._held[path]
        try:
            return PackageFile(os.dup(descriptor), member)
        except OSError as error:
            raise source_error(error) from error

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> list[OpenFile | SourceError]:
        """The system is asked to fetch what is opened."""
        files = one_by_one(self, paths)
        for file in files:
            if isinstance(file, PackageFile):
                if past_caches:
                    file.past_caches()
                file.fetch()
        return files

    def remove(self, path: str, is_same: Callable[[OpenFile], bool]) -> None:
        """Never."""
        raise SourceUnreadable(_NEVER)


def _who(facts: os.stat_result) -> tuple[int, int]:
    return facts.st_dev, facts.st_ino


class PackageFile(OpenFile):
    """A file in a package, opened for reading from its start."""

    def __init__(self, descriptor: int, member: Member) -> None:
        self._descriptor, self._member, self._offset = descriptor, member, 0

    def read_into(self, view: memoryview) -> int:
        """No further than the file goes."""
        return self._read(view, 0)

    def read_now(self, view: memoryview) -> int:
        """What the system has in memory."""
        try:
            return self._read(view, os.RWF_NOWAIT)
        except SourceError:
            return 0  # not at hand: it is read when it is waited for, and if it fails, then

    def _read(self, view: memoryview, how: int) -> int:
        left = self._member.size - self._offset
        if left <= 0 or not view:
            return 0
        try:
            count = os.preadv(self._descriptor, [view[:left]], self._member.at + self._offset, how)
        except OSError as error:
            raise source_error(error) from error
        if not count and not how:
            raise SourceUnreadable("the package ends before the file does: it was cut off")
        self._offset += count
        return count

    def is_sparse(self) -> bool:
        """Whether the package keeps fewer bytes than it has is not asked: zeros are read as such."""
        return False

    def past_caches(self) -> bool:
        """Drops the pages that the file lies on."""
        try:
            return drop_pages(self._descriptor, self._member.size, self._member.at)
        except OSError as error:
            raise source_error(error) from error

    def fetch(self) -> None:
        """A courtesy: large files are fetched as they are read."""
        if self._member.size < LARGE:
            with contextlib.suppress(OSError):  # nothing is lost by it
                os.posix_fadvise(self._descriptor, self._member.at, self._member.size, os.POSIX_FADV_WILLNEED)

    def read_at(self, offset: int, size: int) -> bytes:
        """Within the file."""
        try:
            return os.pread(self._descriptor, max(min(size, self._member.size - offset), 0), self._member.at + offset)
        except OSError as error:
            raise source_error(error) from error

    def descriptor(self) -> int:
        """There is none that begins with the file."""
        raise SourceUnreadable("it lies in a package: bring it back as a file first")

    def size_and_time(self) -> tuple[int, int]:
        """As they were when it was packed; a package that has lost its end does not have the file any more."""
        try:
            whole = os.fstat(self._descriptor).st_size
        except OSError as error:
            raise source_error(error) from error
        return max(min(self._member.size, whole - self._member.at), 0), self._member.modified_ns

    def close(self) -> None:
        """May be called once only."""
        shut(self._descriptor)
