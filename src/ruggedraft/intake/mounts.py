"""Real readers on Linux: every mounted removable file system is a card in a slot.

Sources: proc(5) for mountinfo, sysfs(5) for `removable`, udev(7) for the properties in /run/udev/data.
"""

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import replace
from pathlib import Path

from ruggedraft.core.cards import CardSource, FolderSource
from ruggedraft.core.cards.chapters import FAT32_LARGEST_FILE
from ruggedraft.stores.mount_table import Mount, read_mounts

from .readers import CardSeen, Slot, card_path

_FILE_SYSTEMS = {"vfat", "exfat", "ntfs", "ntfs3", "fuseblk", "hfsplus", "udf", "ext2", "ext3", "ext4", "apfs"}
_MARKER = ".raft-store"


class MountTable:
    """The mount table of this machine, or the one beneath `root` (for tests)."""

    def __init__(self, root: Path = Path("/")) -> None:
        self._root = root

    def slots(self) -> Iterable[Slot]:
        found = []
        for mount in self._cards():
            told = _udev(self._root / "run/udev/data" / f"b{mount.device}")
            port = self._port(told, mount)
            found.append(Slot(_slot_name(told, port), mount.path, self._seen(mount, told), port))
        names = Counter(slot.name for slot in found)
        for slot in found:
            twin = names[slot.name] > 1
            yield replace(slot, name=f"{slot.name} at {_short(slot.port)}"[:80]) if twin else slot

    def pulse(self) -> object:
        try:
            return (self._root / "proc/self/mountinfo").read_bytes()
        except OSError:
            return b""

    def open(self, slot_path: str, levels_up: int) -> CardSource:
        return FolderSource(card_path(slot_path, levels_up))

    def _cards(self) -> Iterator[Mount]:
        seen = set()
        for mount in read_mounts(self.pulse()):
            if mount.device not in seen and mount.file_system in _FILE_SYSTEMS and self._is_card(mount):
                seen.add(mount.device)
                yield mount

    def _is_card(self, mount: Mount) -> bool:
        """On a medium that is taken out, and not one of our own drives."""
        device = self._root / "sys/dev/block" / mount.device
        block = device.resolve()
        disk = block.parent if (block / "partition").exists() else block
        try:
            removable = (disk / "removable").read_text().strip() == "1"
        except OSError:
            return False
        return (removable or disk.name.startswith("mmcblk")) and not Path(mount.path, _MARKER).exists()

    def _seen(self, mount: Mount, told: dict[str, str]) -> CardSeen:
        return CardSeen(
            serial=told.get("ID_FS_UUID", ""),
            kind=_kind(told, mount),
            capacity=self._capacity(mount),
            volume=_unescaped(told.get("ID_FS_LABEL_ENC", "")),
            largest_file=FAT32_LARGEST_FILE if mount.file_system == "vfat" else None,
            token=f"mount {mount.number} {mount.device}",
        )

    def _port(self, told: dict[str, str], mount: Mount) -> str:
        """The plug that the reader hangs on, and the slot's number in it. What the kernel numbers anew is left out."""
        path = told.get("ID_PATH")
        if path:
            return re.sub(r"-part\d+$", "", path)[:200]
        device = (self._root / "sys/dev/block" / mount.device).resolve()
        disk = device.parent if (device / "partition").exists() else device
        place = str(disk).partition("/devices/")[2] or str(disk)
        where = re.sub(r"/host\d+/target[\d:]+/\d+:\d+:\d+:(\d+)/block/\w+$", r" slot \1", place)
        return where[-200:]

    def _capacity(self, mount: Mount) -> int:
        """sysfs counts sectors of 512 bytes whatever the medium's own are."""
        try:
            return 512 * int((self._root / "sys/dev/block" / mount.device / "size").read_text())
        except (OSError, ValueError):
            return 0


def _unescaped(text: str) -> str:
    return re.sub(r"\\x([0-9a-f]{2})", lambda found: chr(int(found[1], 16)), text)[:80]


def _udev(path: Path) -> dict[str, str]:
    """The properties udev keeps of a device: lines `E:NAME=value`."""
    try:
        lines = path.read_text(errors="replace").splitlines()
    except OSError:
        return {}
    return dict(line[2:].split("=", 1) for line in lines if line.startswith("E:") and "=" in line)


def _slot_name(told: dict[str, str], port: str) -> str:
    """The reader's own name and its slot's number."""
    reader = (told.get("ID_MODEL") or "reader").replace("_", " ").strip()
    lun = re.search(r"(\d+)$", port)
    return f"{reader} {int(lun[1]) + 1 if lun else port}"[:60]


def _short(port: str) -> str:
    """The plug, as people find it: the bus and its ports."""
    plug = re.search(r"usb-([\d.:]+):\d+\.\d+", port) or re.search(r"/(\d+-[\d.]+)[:/]", port)
    return f"port {plug[1]}" if plug else port[-40:]


def _kind(told: dict[str, str], mount: Mount) -> str:
    flash = {"ID_DRIVE_FLASH_SD": "SD", "ID_DRIVE_FLASH_CF": "CF", "ID_DRIVE_FLASH_MS": "memory stick"}
    return next((kind for name, kind in flash.items() if told.get(name) == "1"), "card")
