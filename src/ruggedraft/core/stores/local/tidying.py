"""Taking away folders that hold nothing."""

import contextlib
import os
from collections.abc import Sequence

from ...files.confinement import Root


def tidy(root: Root, parts: Sequence[str]) -> None:
    """Every empty folder in one, and itself where it is empty then; links are never followed. Never raises.

    Nothing is removed that the system does not say is empty, so that what somebody puts there meanwhile stays.
    """
    with contextlib.suppress(OSError), root.folder(tuple(parts[:-1])) as parent:
        _tidy(root, tuple(parts), parent)


def _tidy(root: Root, here: tuple[str, ...], parent: int) -> None:
    with root.folder(here) as folder, os.scandir(folder) as entries:
        inner = [entry.name for entry in entries if entry.is_dir(follow_symlinks=False)]
        for name in inner:
            with contextlib.suppress(OSError):
                _tidy(root, (*here, name), folder)
    os.rmdir(here[-1], dir_fd=parent)
