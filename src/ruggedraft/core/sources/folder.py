"""A card that is mounted as a folder."""

import errno
import os
import stat
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from itertools import groupby
from operator import itemgetter
from pathlib import Path

from ..errors import SourceChanged, SourceError, SourceUnreadable, SourceVanished, source_error, why
from ..files.confinement import Folders, Root, parts_of, shut
from ..files.medium import LARGE, drop_pages, read_now, set_direct, unset_direct
from ..files.systems import is_kept_closed
from .listing import Entry, EntryKind
from .port import CardSource, OpenFile


class FolderSource(CardSource):
    """A card mounted as a folder. Bound to the folder found at first: a swapped card is a vanished one."""

    def __init__(self, path: Path) -> None:
        try:
            self._root = Root.at(path)
        except OSError as error:
            raise SourceVanished(f"There is no card at {path} ({why(error)}).") from error
        self._folders = Folders(self._root)

    def walk(self) -> Iterator[Entry]:
        """In path order; follows no link. A folder that cannot be read is told of as an entry."""
        yield from self._walk(())

    def _walk(self, parts: tuple[str, ...]) -> Iterator[Entry]:
        try:
            with self._root.folder(parts) as folder, os.scandir(folder) as found:
                above = "".join(part + "/" for part in parts)
                entries = [_entry(above + item.name, item.stat(follow_symlinks=False), item, folder) for item in found]
        except OSError as error:
            yield _unlisted(parts, error)
            return
        inside = [(f"{entry.path}/", entry) for entry in entries if entry.kind is EntryKind.FOLDER]
        for at, entry in sorted([*((entry.path, entry) for entry in entries), *inside], key=itemgetter(0)):
            if at is entry.path:
                yield entry
            else:  # what is in a folder comes where its paths do: "a", "a.b", "a/c"
                yield from self._walk(tuple(entry.path.split("/")))

    def require(self) -> None:
        """The folder found at first must be the one that its path leads to now."""
        try:
            self._root.require()
        except OSError as error:
            raise source_error(error) from error

    def open_ahead(self, paths: Sequence[str], *, past_caches: bool) -> list[OpenFile | SourceError]:
        """Each folder is opened once, and the system is asked to fetch what was opened in it."""
        opened: list[OpenFile | SourceError] = []
        for folder, group in groupby(paths, lambda path: path.rpartition("/")[0]):
            wanted = list(group)
            try:
                with self._folders.at(parts_of(folder) if folder else ()) as parent:
                    opened += [_asked_for(path.rpartition("/")[2], parent, past_caches) for path in wanted]
            except OSError as error:
                opened += [source_error(error)] * len(wanted)
        return opened

    def open(self, path: str) -> "FolderFile":
        """Folder by folder from the card's root, following no link."""
        *folders, name = parts_of(path)
        try:
            with self._folders.at(tuple(folders)) as parent:
                return FolderFile(os.open(name, _READ, dir_fd=parent))
        except OSError as error:
            raise source_error(error) from error

    def remove(self, path: str, is_same: Callable[[OpenFile], bool]) -> None:
        """The name is looked up again when the file was compared: what stands there must still be what was read."""
        *folders, name = parts_of(path)
        try:
            with self._folders.at(tuple(folders)) as parent:
                self._remove(name, parent, is_same)
        except OSError as error:
            raise source_error(error) from error

    def _remove(self, name: str, parent: int, is_same: Callable[[OpenFile], bool]) -> None:
        file = FolderFile(os.open(name, _READ, dir_fd=parent))
        try:
            read = _who(os.fstat(file.descriptor()))
            if not stat.S_ISREG(read[0]) or not is_same(file):
                raise SourceChanged("it is not what was copied: it stays")
            self.require()
            if _who(os.stat(name, dir_fd=parent, follow_symlinks=False)) != read:
                raise SourceChanged("it changed while it was compared: it stays")
            _unlink(name, parent)
        finally:
            file.close()


def _unlink(name: str, parent: int) -> None:
    """Raises SourceUnreadable where the card does not let go of it, as one that is write-protected."""
    try:
        os.unlink(name, dir_fd=parent)
        os.fsync(parent)
    except OSError as error:
        translated = source_error(error)
        if isinstance(translated, SourceVanished):
            raise translated from error
        raise SourceUnreadable(f"it could not be taken off the card ({why(error)}): it stays") from error


def _who(facts: os.stat_result) -> tuple[int, ...]:
    """What a file is: its kind, device, inode, size and time."""
    return facts.st_mode, facts.st_dev, facts.st_ino, facts.st_size, facts.st_mtime_ns


_READ = os.O_RDONLY | os.O_NONBLOCK | os.O_NOFOLLOW | os.O_CLOEXEC


def _asked_for(name: str, parent: int, past_caches: bool) -> "OpenFile | SourceError":
    """A file that the system has begun to fetch."""
    try:
        descriptor = os.open(name, _READ, dir_fd=parent)
    except OSError as error:
        return source_error(error)
    file = FolderFile(descriptor)
    try:
        if past_caches:
            file.past_caches()
        os.posix_fadvise(descriptor, 0, 0, os.POSIX_FADV_WILLNEED)
    except SourceError as error:
        file.close()
        return error
    except OSError:
        pass  # asking early is a courtesy
    return file


def _unlisted(parts: tuple[str, ...], error: OSError) -> Entry:
    """A folder that could not be listed. Raises SourceVanished where the card itself is gone."""
    translated = source_error(error)
    if not parts or isinstance(translated, SourceVanished):
        raise SourceVanished(translated.sentence) from error
    kept_closed = len(parts) == 1 and is_kept_closed(parts[0], error)
    return Entry("/".join(parts), EntryKind.SYSTEM if kept_closed else EntryKind.UNREADABLE, detail=why(error))


def _entry(path: str, facts: os.stat_result, item: "os.DirEntry[str]", folder: int) -> Entry:
    if stat.S_ISREG(facts.st_mode):
        return Entry(path, EntryKind.FILE, facts.st_size, facts.st_mtime_ns, mode=stat.S_IMODE(facts.st_mode))
    if stat.S_ISDIR(facts.st_mode):
        return Entry(path, EntryKind.FOLDER, 0, facts.st_mtime_ns)
    if stat.S_ISLNK(facts.st_mode):
        return Entry(path, EntryKind.LINK, 0, facts.st_mtime_ns, os.readlink(item.name, dir_fd=folder))
    return Entry(path, EntryKind.SPECIAL, 0, facts.st_mtime_ns)


class FolderFile(OpenFile):
    """An open file of a mounted card, by its descriptor."""

    __slots__ = ("_advised", "_descriptor", "_direct", "_offset")

    def __init__(self, descriptor: int) -> None:
        self._descriptor, self._advised = descriptor, 0
        self._offset, self._direct = 0, False

    def _advise(self, advice: int) -> None:
        """Read ahead far for a copy, not at all for a header: a card is slow, and most of it is not header."""
        if self._advised != advice:
            os.posix_fadvise(self._descriptor, 0, 0, advice)
            self._advised = advice

    def read_into(self, view: memoryview) -> int:
        """Past the caches where that was asked for and can be had; an odd end of a file comes through them."""
        try:
            count = self._read_into(view)
        except OSError as error:
            raise source_error(error) from error
        self._offset += count
        return count

    def _read_into(self, view: memoryview) -> int:
        try:
            return os.preadv(self._descriptor, [view], self._offset)
        except OSError as error:
            if not self._direct or error.errno != errno.EINVAL:
                raise
        self._direct = False  # an odd place or length, as at a file's end: the rest comes through the cache
        unset_direct(self._descriptor)
        return os.preadv(self._descriptor, [view], self._offset)

    def read_now(self, view: memoryview) -> int:
        """What the system has in memory: preadv2(2), RWF_NOWAIT."""
        try:
            count = read_now(self._descriptor, view, self._offset)
        except OSError as error:
            raise source_error(error) from error
        self._offset += count
        return count

    def is_sparse(self) -> bool:
        """By the blocks that the file system gave it: stat(2)."""
        try:
            facts = os.fstat(self._descriptor)
        except OSError as error:
            raise source_error(error) from error
        return facts.st_blocks * 512 < facts.st_size

    def past_caches(self) -> bool:
        """Drops its pages; a large file is read directly from then on, where the file system can."""
        try:
            size = os.fstat(self._descriptor).st_size
            dropped = drop_pages(self._descriptor, size)
            self._direct = size >= LARGE and set_direct(self._descriptor)
        except OSError as error:
            raise source_error(error) from error
        return dropped

    def read_at(self, offset: int, size: int) -> bytes:
        """The system is told not to read ahead: most of what a header's reader skips is never wanted."""
        try:
            self._advise(os.POSIX_FADV_RANDOM)
            return os.pread(self._descriptor, size, offset)
        except OSError as error:
            raise source_error(error) from error

    def ask_for(self, offset: int, size: int) -> None:
        """posix_fadvise(2), POSIX_FADV_WILLNEED."""
        with suppress(OSError):  # whatever is wrong with it shows when it is read
            os.posix_fadvise(self._descriptor, offset, size, os.POSIX_FADV_WILLNEED)

    def descriptor(self) -> int:
        """Stays ours: whoever uses it does not close it."""
        return self._descriptor

    def size_and_time(self) -> tuple[int, int]:
        """Of the open file, whatever stands under its name by now."""
        try:
            facts = os.fstat(self._descriptor)
        except OSError as error:
            raise source_error(error) from error
        return facts.st_size, facts.st_mtime_ns

    def close(self) -> None:
        """May be called once only."""
        shut(self._descriptor)
