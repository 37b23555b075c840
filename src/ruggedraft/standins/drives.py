"""Drives made of folders. A small file says which pretended device a folder is on and how much that holds."""

import json
from pathlib import Path
from typing import Any

from ruggedraft.core.naming import EXT
from ruggedraft.core.stores import Room
from ruggedraft.stores.probe import SystemDeviceProbe

SHEET = ".raft-standin-device"


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
        used = sum(file.stat().st_blocks * 512 for file in folder.rglob("*") if file.is_file())
        return Room(max(0, min(real.free, sheet["capacity"] - used)), sheet["capacity"])

    def file_system(self, folder: Path) -> str:
        sheet = _sheet(folder)
        return sheet.get("file_system", EXT.name) if sheet else super().file_system(folder)


def _sheet(folder: Path) -> dict[str, Any] | None:
    folder.stat()
    for place in (folder, *folder.parents):
        if (place / SHEET).is_file():
            sheet: dict[str, Any] = json.loads((place / SHEET).read_text())
            return sheet
    return None
