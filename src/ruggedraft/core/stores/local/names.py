import os

from ...files.confinement import Folders


class Names:
    """What stood in a folder when this run first looked into it, and what the run has put there since.

    Spares a look for each of thousands of files. What another program puts there meanwhile is found out when a
    file gets its name, which is never taken from anything.
    """

    def __init__(self) -> None:
        self._known: dict[tuple[str, ...], set[str]] = {}

    def may_be(self, folder: tuple[str, ...], name: str, folders: Folders) -> bool:
        """Whether something may stand under this name; False only if nothing does."""
        known = self._known.get(folder)
        if known is None:
            try:
                with folders.at(folder) as descriptor:
                    known = set(os.listdir(descriptor))
            except FileNotFoundError:
                known = set()
            self._known[folder] = known
        return name in known

    def add(self, folder: tuple[str, ...], name: str) -> None:
        """Note what the run itself puts there."""
        self._known.setdefault(folder, set()).add(name)
