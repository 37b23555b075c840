import os
from collections import OrderedDict

from ...files.confinement import Folders

_MOST = 50_000
"""So many names are remembered; then those of folders that were not asked about for longest go."""


class Names:
    """What stood in a folder when this run first looked into it, and what the run has put there since.

    Spares a look for each of thousands of files. What another program puts there meanwhile is found out when a
    file gets its name, which is never taken from anything. One thread asks, the one that writes; another may add.
    """

    def __init__(self) -> None:
        self._known: OrderedDict[tuple[str, ...], set[str]] = OrderedDict()
        self._count = 0

    def may_be(self, folder: tuple[str, ...], name: str, folders: Folders) -> bool:
        """Whether something may stand under this name; False only if nothing does."""
        known = self._known.get(folder)
        if known is None:
            known = self._known[folder] = _listed(folder, folders)
            self._count += len(known)
            self._forget()
        self._known.move_to_end(folder)
        return name in known

    def add(self, folder: tuple[str, ...], name: str) -> None:
        """Note what the run itself puts there. A folder that was forgotten is looked into again anyway."""
        known = self._known.get(folder)
        if known is not None and name not in known:
            known.add(name)
            self._count += 1

    def _forget(self) -> None:
        while self._count > _MOST and len(self._known) > 1:
            _, names = self._known.popitem(last=False)
            self._count -= len(names)


def _listed(folder: tuple[str, ...], folders: Folders) -> set[str]:
    try:
        with folders.at(folder) as descriptor:
            return set(os.listdir(descriptor))
    except FileNotFoundError:
        return set()
