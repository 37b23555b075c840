"""What somebody said is a reader: a phone's storage, a camera that is mounted by its cable, finals, or a package."""

import os
import stat
from collections.abc import Iterable
from pathlib import Path

from ruggedraft.core.apart import Apart, NotAnswering
from ruggedraft.core.errors import SourceUnreadable, SourceVanished
from ruggedraft.core.packages import ENDING as PACKAGE
from ruggedraft.core.packages import PackageSource
from ruggedraft.core.sources import FolderSource, RemovableSource

from .readers import CardSeen, Slot, card_path

said_folders: dict[str, bool] = {}
"""Renewed from the ledger with every look: whether they hold finals."""
FINALS = "finals"
"""What a card's kind is called that is none, but a folder of finals."""
SEALED = "package"
"""And of one that is a sealed package of a roll."""
_PATIENCE_S = 2.0
_SILENT = "The folder does not answer: look at its cable, and plug it in again. Nothing is known of it."
_apart = Apart()


class SaidFolders:
    """Each is a slot with one card in it, as long as the folder or the package is there."""

    def slots(self) -> Iterable[Slot]:
        for path in sorted(said_folders):
            what = "package" if path.endswith(PACKAGE) else "folder"
            yield Slot(f"{what} {Path(path).name}"[:80], path, _seen(path), f"folder {path}"[:200])

    def pulse(self) -> object:
        return tuple(sorted(said_folders))

    def open(self, slot_path: str, levels_up: int) -> RemovableSource:
        if slot_path.endswith(PACKAGE):
            return _package(Path(slot_path))
        return FolderSource(card_path(slot_path, levels_up))

    def release(self, slot_path: str) -> str:
        """A folder is no medium that a system lets go of."""
        return "a folder that somebody said is a reader is not let go of here: take its device out as you always do"


def _seen(path: str) -> CardSeen | None:
    """A folder tells neither serial nor size; that it was away meanwhile shows in what device and inode it is."""
    kind = FINALS if said_folders.get(path) else SEALED if path.endswith(PACKAGE) else "folder"
    try:
        found = _apart.ask(path, lambda: _identity(path), _PATIENCE_S)
    except NotAnswering:
        return CardSeen(serial="", kind=kind, capacity=0, token=path, trouble=_SILENT)
    except OSError:
        return None
    return CardSeen(serial="", kind=kind, capacity=0, token=found)


def _identity(path: str) -> str:
    """Raises OSError where it is not there, or is no folder and no package."""
    if path.endswith(PACKAGE):
        here = Path(path).lstat()
        if not stat.S_ISREG(here.st_mode):
            raise NotADirectoryError(path)
        return f"{here.st_dev} {here.st_ino} {here.st_size} {here.st_mtime_ns}"
    with os.scandir(path):
        here = Path(path).stat()
    return f"{here.st_dev} {here.st_ino}"


def _package(path: Path) -> PackageSource:
    """Raises SourceVanished."""
    try:
        return PackageSource.at(path)
    except SourceUnreadable as error:
        raise SourceVanished(error.sentence) from error
