"""A listing by folders, and found in whatever case a file system wrote it."""

from functools import cached_property

from ..sources.listing import Entry, Listing


class Tree:
    """Files and folders of a listing. Paths are as in the listing; the card itself is ""."""

    def __init__(self, listing: Listing) -> None:
        self._listing = listing

    @cached_property
    def files_by_folder(self) -> dict[str, list[Entry]]:
        """The files directly in each folder that has any, in path order."""
        found: dict[str, list[Entry]] = {}
        for entry in self._listing.files:
            found.setdefault(entry.path.rpartition("/")[0], []).append(entry)
        return found

    @cached_property
    def folders_by_folder(self) -> dict[str, list[str]]:
        """Paths of the folders in each folder."""
        found: dict[str, list[str]] = {}
        for entry in self._listing.folders:
            found.setdefault(entry.path.rpartition("/")[0], []).append(entry.path)
        return found

    @cached_property
    def _folders(self) -> dict[str, str]:
        """By lower case; of two that differ in nothing else the first."""
        return {entry.path.lower(): entry.path for entry in reversed(self._listing.folders)}

    @cached_property
    def _entries(self) -> dict[str, Entry]:
        return {entry.path: entry for entry in self._listing.entries}

    @cached_property
    def _by_lower(self) -> dict[str, Entry]:
        return {entry.path.lower(): entry for entry in reversed(self._listing.entries)}

    def folder(self, path: str) -> str | None:
        """The folder as it stands on the card, found without regard to case; None if there is none."""
        return self._folders.get(path.lower())

    def entry(self, path: str) -> Entry | None:
        """The entry at this path, found without regard to case where it is not there exactly."""
        return self._entries.get(path) or self._by_lower.get(path.lower())

    def files_in(self, folder: str | None) -> list[Entry]:
        """The files directly in a folder; none for None."""
        return [] if folder is None else self.files_by_folder.get(folder, [])

    def folders_in(self, folder: str | None) -> list[str]:
        """Paths of the folders in a folder."""
        return [] if folder is None else self.folders_by_folder.get(folder, [])

    def files_under(self, folder: str) -> list[Entry]:
        """Every file in a folder and in the folders in it."""
        found = list(self.files_in(folder))
        for inner in self.folders_in(folder):
            found += self.files_under(inner)
        return found


def join(*parts: str) -> str:
    """Parts of a path put together; "" is the card itself."""
    return "/".join(part for part in parts if part)


def name_of(path: str) -> str:
    """The last part of a path."""
    return path.rpartition("/")[2]


def base_of(path: str) -> str:
    """A file's name without its ending."""
    start, dot = path.rfind("/") + 1, path.rfind(".")
    return path[start:dot] if dot > start else path[start:]
