"""What runs write down on a folder store for those that go on with them: a file beside the parts."""

import contextlib
import fcntl
import hashlib
import os
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from itertools import groupby

from ...errors import store_error
from ...files.confinement import Folders, Root, parts_of, shut
from ..port import Notes
from .parts import NOTES, PARTS

_MOST_BYTES = 256 << 20
"""A line of some 300 bytes a file; a larger file is nobody's notes, and would only fill memory."""
_FLAGS = os.O_RDWR | os.O_APPEND | os.O_NOFOLLOW | os.O_CLOEXEC
_PIECE = 1 << 20


class LocalNotes(Notes):
    """Of one folder of a store. A run that comes to it while another is alive sees nothing there, and adds nothing."""

    def __init__(self, store: str, root: Root, folders: Folders, folder: str) -> None:
        self._store, self._root, self._folders = store, root, folders
        self._name = hashlib.blake2b(os.fsencode(folder), digest_size=12).hexdigest() + NOTES
        self._descriptor = -1

    def read(self) -> bytes:
        """As in the port; too large a file is as good as none."""
        with self._errors():
            if not self._open():
                return b""
            size = os.fstat(self._descriptor).st_size
            found = bytearray()
            while len(found) < size <= _MOST_BYTES:
                piece = os.pread(self._descriptor, _PIECE, len(found))
                if not piece:
                    break
                found += piece
            return bytes(found)

    def add(self, data: bytes) -> None:
        """As in the port."""
        with self._errors():
            if self._open():
                view = memoryview(data)
                while view:
                    view = view[os.write(self._descriptor, view) :]

    def keep(self, count: int) -> None:
        """As in the port."""
        with self._errors():
            if self._open():
                os.ftruncate(self._descriptor, count)

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """Mode, size, modification and change time, as the file system keeps them.

        Some keep no time of a change and give that of the modification instead, which whoever copies a file sets as it
        was: there nothing can be told.
        """
        found: list[tuple[int, ...] | None] = []
        for folder, group in groupby(paths, lambda path: path.rpartition("/")[0]):
            names = [path.rpartition("/")[2] for path in group]
            try:
                with self._folders.at(parts_of(folder) if folder else ()) as parent:
                    found += [_stamp(name, parent) for name in names]
            except OSError:
                found += [None] * len(names)
        return found

    def forget(self) -> None:
        """Removes the file, and the folder of parts where nothing else is in it."""
        self._shut()
        with contextlib.suppress(OSError):
            with self._root.folder((PARTS,)) as parts:
                os.unlink(self._name, dir_fd=parts)
            with self._root.opened() as root:
                os.rmdir(PARTS, dir_fd=root)

    def close(self) -> None:
        """Let other runs have it. It stays."""
        self._shut()

    def _open(self) -> bool:
        """Whether it is ours alone."""
        if self._descriptor >= 0:
            return True
        with self._root.folder((PARTS,), make=True) as parts:
            descriptor = os.open(self._name, _FLAGS | os.O_CREAT, 0o600, dir_fd=parts)
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            shut(descriptor)
            return False
        self._descriptor = descriptor
        return True

    def _shut(self) -> None:
        if self._descriptor >= 0:
            shut(self._descriptor)
            self._descriptor = -1

    @contextmanager
    def _errors(self) -> Iterator[None]:
        try:
            yield
        except OSError as error:
            self._shut()
            raise store_error(error, self._store) from error


def _stamp(name: str, parent: int) -> tuple[int, ...] | None:
    try:
        facts = os.stat(name, dir_fd=parent, follow_symlinks=False)
    except OSError:
        return None
    if facts.st_ctime_ns == facts.st_mtime_ns:
        return None
    return facts.st_mode, facts.st_size, facts.st_mtime_ns, facts.st_ctime_ns
