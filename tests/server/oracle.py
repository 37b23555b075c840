"""A judge that looks at bytes. Of the ledger it knows only where a copy lies; the rest it looks up itself."""

import contextlib
import os
from collections.abc import Iterator
from pathlib import Path

from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.kit.models import DeviceLoss
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.stores.models import Store

Facts = tuple[str, int, int, bytes]
"""A file as it is: its path in the ledger's form, size, time and content."""


class Oracle:
    """Kept in step by whoever acts, by telling what the screens cannot know.

    truth: of each roll's files, by (roll's tag, path), the very bytes that lay on the card when they were read
    silent: damage to copies that keeps size and time, and that nothing has read yet: path on the drive → bytes before
    seen: every file that lay on the card (or on a twin that passed for it) when the station listed it
    answered: those that somebody answered for
    shown_waived: files, with their bytes, as they were when somebody waived them
    """

    def __init__(self) -> None:
        self.truth: dict[tuple[str, str], bytes] = {}
        self.silent: dict[Path, bytes] = {}
        self.seen: set[Facts] = set()
        self.answered: set[Facts] = set()
        self.shown_waived: set[Facts] = set()
        self._still: dict[str, list[tuple[Path, str]]] | None = None

    @contextlib.contextmanager
    def still(self) -> Iterator[None]:
        """While nobody acts, copies are where they are: they are looked up once."""
        self._still = self._look_up()
        try:
            yield
        finally:
            self._still = None

    @staticmethod
    def files(folder: Path) -> set[Facts]:
        found = set()
        for file in folder.rglob("*"):
            if file.is_file():
                facts = file.stat()
                path = to_ledger(str(file.relative_to(folder)))
                found.add((path, facts.st_size, facts.st_mtime_ns, file.read_bytes()))
        return found

    def as_last_read(self, file: Path) -> bytes | None:
        if file in self.silent:
            return self.silent[file]
        return file.read_bytes() if file.is_file() else None

    def drives_with(self, path: str, content: bytes) -> set[str]:
        """Devices, not reported lost, on which these bytes lie where a roll's copy keeps this file."""
        return {device for place, device in self.places().get(path, ()) if self.as_last_read(place) == content}

    def places(self) -> dict[str, list[tuple[Path, str]]]:
        """Where copies of each path lie, with the device, but for devices reported lost."""
        return self._look_up() if self._still is None else self._still

    @staticmethod
    def _look_up() -> dict[str, list[tuple[Path, str]]]:
        lost = DeviceLoss.objects.filter(found_at=None).values("device")
        rows = Copy.objects.exclude(store__device__in=lost).values_list(
            "roll__files__path",
            "roll__files__kept_as",
            "store__path",
            "store__address",
            "store__name",
            "folder",
            "store__device__name",
        )
        found: dict[str, list[tuple[Path, str]]] = {}
        for path, kept_as, store, address, name, folder, device in rows:
            home = _root(name, address, store) / folder
            found.setdefault(path, []).append((home / from_ledger(kept_as or path), device))
        return found

    def waived(self, one: Facts) -> bool:
        return one in self.shown_waived

    def in_danger(self, card: Path) -> list[str]:
        """Files on the card whose very bytes are not on two drives, and that nobody waived as they are."""
        return sorted(
            one[0] for one in self.files(card) if not self.waived(one) and len(self.drives_with(one[0], one[3])) < 2
        )

    def in_no_copy(self, card: Path) -> list[str]:
        return sorted(
            one[0] for one in self.files(card) if not self.waived(one) and not self.drives_with(one[0], one[3])
        )

    def owed(self, card: Path) -> list[str]:
        """Files that were seen on the card, are not on it, are in no copy, and nobody answered for or waived."""
        here = self.files(card)
        return sorted(
            one[0]
            for one in self.seen - here - self.answered - self.shown_waived
            if not self.drives_with(one[0], one[3])
        )

    def held(self, roll: Roll, copy: Copy) -> int:
        """How many of a roll's files are on a store with the bytes that were read off the card."""
        count = 0
        for row in roll.files.exclude(checksum=""):
            place = home_of(copy) / from_ledger(row.kept_as or row.path)
            there = self.as_last_read(place)
            count += there is not None and there == self.truth.get((roll.tag, row.path))
        return count

    def note_run(self, card: Path, before: set[tuple[str, str]]) -> None:
        """A run has ended: what it read now and had not before is what lay on the card."""
        there = {one[0]: one[3] for one in self.files(card)}
        for roll in Roll.objects.all():
            for path in roll.files.exclude(checksum="").values_list("path", flat=True):
                if (roll.tag, path) not in before and path in there:
                    self.truth.setdefault((roll.tag, path), there[path])

    def read_again(self, copy: Copy, paths: set[str] | None = None) -> None:
        """Files of a copy were read (all, or those of these card paths): silent damage to them is silent no more."""
        for row in copy.roll.files.all():
            if paths is None or row.path in paths:
                self.silent.pop(home_of(copy) / from_ledger(row.kept_as or row.path), None)


SERVED: dict[str, Path] = {}
"""Folders of this machine that servers serve of which no path is told, by the name of the store on each."""


def _root(store: str, address: dict, path: str) -> Path:
    return SERVED.get(store) or Path(address.get("folder") or path)


def home_of(copy: Copy) -> Path:
    """Where the copy really lies, looked up past the store: also that of a server is a folder of this machine."""
    return root_of(copy.store) / copy.folder


def root_of(store: Store) -> Path:
    return _root(store.name, store.address, store.path)


def same_but_other(file: Path) -> bytes:
    """Change a file's content and neither its size nor its time; what it held before."""
    times, before = file.stat(), file.read_bytes()
    file.write_bytes(bytes(byte ^ 1 for byte in before))
    os.utime(file, ns=(times.st_atime_ns, times.st_mtime_ns))
    return before
