"""A file on its way into somebody's folder: under its name only when it is whole, and never over another."""

import contextlib
import os
import secrets
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from ..errors import Conflict, StoreError, StoreStopped, why
from ..files.confinement import Root, parts_of
from ..stores.local.parts import name_if_free

_ON_ITS_WAY = ".raft-on-its-way."


@dataclass
class NewFile:
    """descriptor: open for reading and writing. Until `keep` it has no name that anybody would look for."""

    descriptor: int
    _parent: int
    _hidden: str
    _name: str
    _kept: bool = field(default=False)

    def keep(self) -> None:
        """Make it durable and give it its name. Raises Conflict where something stands under it; OSError."""
        os.fsync(self.descriptor)
        try:
            name_if_free(self._hidden, self._parent, self._name, self._parent)
        except FileExistsError as error:
            raise Conflict(f"something else stands at {self._name}; it was left alone") from error
        self._kept = True
        os.fsync(self._parent)


@contextlib.contextmanager
def new_file(folder: Path, path: str) -> Iterator[NewFile]:
    """In a folder that is there, at a relative path; what was not kept is gone afterwards. Raises StoreError."""
    *folders, name = parts_of(path)
    hidden = f"{_ON_ITS_WAY}{secrets.token_hex(8)}"
    try:
        with Root.at(folder).folder(tuple(folders), make=True) as parent:
            descriptor = os.open(hidden, os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o644, dir_fd=parent)
            made = NewFile(descriptor, parent, hidden, name)
            try:
                yield made
            finally:
                os.close(descriptor)
                if not made._kept:
                    os.unlink(hidden, dir_fd=parent)
    except StoreError:
        raise
    except OSError as error:
        raise StoreStopped(f"{path} cannot be written to {folder} ({why(error)})") from error


def move_if_free(folder: Path, old: str, new: str) -> None:
    """Rename within a folder, by relative paths, unless something stands under the new one. Raises OSError."""
    *old_folders, old_name = parts_of(old)
    *new_folders, new_name = parts_of(new)
    root = Root.at(folder)
    with root.folder(tuple(old_folders)) as old_parent, root.folder(tuple(new_folders), make=True) as new_parent:
        name_if_free(old_name, old_parent, new_name, new_parent)
        os.fsync(new_parent)


def clear_leftovers(folder: Path) -> None:
    """What a run that was killed left on its way; call it while no other run writes there. Raises OSError."""
    for left in folder.rglob(f"{_ON_ITS_WAY}*"):
        left.unlink(missing_ok=True)
