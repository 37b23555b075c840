"""Drives made of folders, and what happens to drives: pulled, filled, slow, rotten, cloned by somebody.

A small file says which pretended device a folder is on and how much that holds.
"""

import json
import os
import random
import shutil
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import EXT
from ruggedraft.core.stores import LocalStore, Room
from ruggedraft.stores.probe import SystemDeviceProbe

from .slow_drive import SHEET, StandinDrive


def make_drive(folder: Path, *, identity: str, capacity: int, file_system: str = "Linux") -> Path:
    """A folder that passes for a drive of this capacity in bytes, of a name of `core.naming.FILE_SYSTEMS`."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / SHEET).write_text(json.dumps({"identity": identity, "capacity": capacity, "file_system": file_system}))
    return folder


class StandinDeviceProbe(SystemDeviceProbe):
    """Believes the sheet in a folder or above it, and asks the system about everything else."""

    def under(self, folder: Path) -> frozenset[str]:
        sheet = _sheet(folder)
        return frozenset({f"stand-in {sheet['identity']}"}) if sheet else super().under(folder)

    def is_system_disk(self, folder: Path) -> bool:
        return _sheet(folder) is None and super().is_system_disk(folder)

    def room(self, folder: Path) -> Room:
        real = super().room(folder)
        sheet = _sheet(folder)
        if sheet is None:
            return real
        if sheet.get("full"):
            return Room(0, sheet["capacity"])
        used = sum(file.stat().st_blocks * 512 for file in folder.rglob("*") if file.is_file())
        return Room(max(0, min(real.free, sheet["capacity"] - used)), sheet["capacity"])

    def store(self, name: str, folder: Path) -> LocalStore:
        place = _place_of_sheet(folder) if folder.is_dir() else None
        return StandinDrive(name, folder, place / SHEET) if place else super().store(name, folder)

    def file_system(self, folder: Path) -> str:
        sheet = _sheet(folder)
        return sheet.get("file_system", EXT.name) if sheet else super().file_system(folder)


@dataclass(frozen=True)
class Drive:
    """plugged: it is connected. full: nothing more goes on it, whatever it holds. slow: bytes trickle"""

    name: str
    plugged: bool
    full: bool
    slow: bool


def drives(home: Path) -> list[Drive]:
    """Those of a home of stand-ins, by name. Servers are no drives."""
    found = [_drive(folder, True) for folder in _folders(home / "drives")]
    found += [_drive(folder, False) for folder in _folders(home / "unplugged")]
    return sorted(found, key=lambda one: one.name)


def unplug(home: Path, name: str) -> None:
    """Pull it, whatever is being written to it. Raises ActRefused."""
    (home / "unplugged").mkdir(exist_ok=True)
    _there(home, name).rename(home / "unplugged" / name)


def plug(home: Path, name: str) -> None:
    """Raises ActRefused."""
    folder = home / "unplugged" / name
    if folder.parent != home / "unplugged" or not folder.is_dir():
        raise ActRefused(f"There is no drive '{name}' that is unplugged.")
    folder.rename(home / "drives" / name)


def fill(home: Path, name: str, *, full: bool) -> None:
    """From now on it has no room left; or it has again. Raises ActRefused."""
    _change(home, name, full=full)


def slow_down(home: Path, name: str, *, slow: bool) -> None:
    """From now on it takes and gives a few megabytes a second; or it is itself again. Raises ActRefused."""
    _change(home, name, slow=slow)


def _change(home: Path, name: str, **facts: bool) -> None:
    sheet = _there(home, name) / SHEET
    written = json.dumps(json.loads(sheet.read_text()) | facts)
    fresh = sheet.with_name(f"{SHEET}.new")
    fresh.write_text(written)
    fresh.replace(sheet)  # whoever reads it meanwhile reads all of it


def rot(home: Path, name: str, chance: random.Random) -> str:
    """One bit of one file of a copy turns, and its size and time stay. Returns its path. Raises ActRefused."""
    folder = _there(home, name)
    files = sorted(
        file for file in folder.rglob("*")
        if file.is_file() and file.stat().st_size and _may_rot(file.relative_to(folder))
    )  # fmt: skip
    if not files:
        raise ActRefused(f"Nothing that could rot is on '{name}'.")
    file = chance.choice(files)
    times, at = file.stat(), chance.randrange(file.stat().st_size)
    with file.open("r+b") as opened:
        opened.seek(at)
        byte = opened.read(1)[0]
        opened.seek(at)
        opened.write(bytes([byte ^ (1 << chance.randrange(8))]))
    os.utime(file, ns=(times.st_atime_ns, times.st_mtime_ns))
    return str(file.relative_to(folder))


def clone(home: Path, name: str) -> None:
    """Somebody copies the whole drive, with its mark, to another drive. Raises ActRefused."""
    folder = _there(home, name)
    other = folder.with_name(f"{name} clone")
    if other.exists():
        raise ActRefused(f"There is a clone of '{name}' already.")
    shutil.copytree(folder, other, symlinks=True)
    sheet = json.loads((other / SHEET).read_text())
    (other / SHEET).write_text(json.dumps(sheet | {"identity": f"{sheet['identity']} clone"}))


def _folders(place: Path) -> list[Path]:
    return [folder for folder in place.iterdir() if (folder / SHEET).is_file()] if place.is_dir() else []


def _there(home: Path, name: str) -> Path:
    folder = home / "drives" / name
    if folder.parent != home / "drives" or not (folder / SHEET).is_file():
        raise ActRefused(f"There is no drive '{name}' that is plugged in.")
    return folder


def _may_rot(path: Path) -> bool:
    """A file of a copy that holds something: not ours, and no list, record or sidecar beside it."""
    beside = (".xmp", ".json", ".xxh128", ".xxh64", ".md5", ".sha1", ".sha256", ".blake3", ".incomplete")
    return not path.parts[0].startswith(".") and not path.name.endswith(beside)


def _drive(folder: Path, plugged: bool) -> Drive:
    facts = json.loads((folder / SHEET).read_text())
    return Drive(folder.name, plugged, bool(facts.get("full")), bool(facts.get("slow")))


def _sheet(folder: Path) -> dict[str, Any] | None:
    folder.stat()
    place = _place_of_sheet(folder)
    sheet: dict[str, Any] | None = json.loads((place / SHEET).read_text()) if place else None
    return sheet


def _place_of_sheet(folder: Path) -> Path | None:
    return next((place for place in (folder, *folder.parents) if (place / SHEET).is_file()), None)
