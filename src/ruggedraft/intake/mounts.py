"""Real readers on Linux: every removable medium with a mounted file system is a card in a slot.

Sources: proc(5) for mountinfo, sysfs(5) for `removable` and partitions, udev(7) for the properties in /run/udev/data.
"""

import re
import subprocess
from collections import Counter
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from shutil import which

from ruggedraft.core.apart import Apart, NotAnswering
from ruggedraft.core.cards.chapters import FAT32_LARGEST_FILE
from ruggedraft.core.machine.mount_table import Mount, read_mounts
from ruggedraft.core.sources import FolderSource, RemovableSource

from .readers import CardSeen, Slot, card_path

_FILE_SYSTEMS = {
    "vfat", "exfat", "ntfs", "ntfs3", "fuseblk", "hfsplus", "udf", "ext2", "ext3", "ext4", "apfs", "xfs", "f2fs",
}  # fmt: skip
_MARKER = ".raft-store"
_BARE_PARTITIONS = {
    "c12a7328-f81f-11d2-ba4b-00a0c93ec93b",
    "0xef",
    "e3c9e316-0b5c-4db8-817d-f92df00215ae",
}
"""Partition types that hold nothing of a camera's and come with a format made on a computer: the EFI system partition
(UEFI Specification 2.10, 5.3.3), its number in the older partition table, and Microsoft's reserved one.
"""

_PATIENCE_S = 2.0
_SILENT = "The card does not answer: take it out, look at its contacts, and try another reader. Nothing is known of it."
_apart = Apart()
said_ports: set[str] = set()
"""Ports of which somebody said that a reader hangs on them; renewed from the ledger with every look."""
_SEVERAL = (
    "This card has more than one partition ({names}), and what a card holds is known here only of cards with one. "
    "Nothing on it was read or changed: copy all of its partitions by hand, and do not clear it on this screen's word."
)


class MountTable:
    """The mount table of this machine, or the one beneath `root` (for tests)."""

    def __init__(self, root: Path = Path("/")) -> None:
        self._root = root
        self._silent: set[str] = set()

    def slots(self) -> Iterable[Slot]:
        found = []
        for disk, mount in self._cards().items():
            told = self._udev(mount.device)
            port = self._port(told, mount)
            seen = self._seen(mount, told)
            if mount.path in self._silent:
                seen = replace(seen, trouble=_SILENT)
            others = self._others(disk, mount)
            if others:
                names = ", ".join(sorted([self._block(mount.device).name, *others]))[:100]
                seen = replace(seen, token=f"{seen.token} {names}", trouble=_SEVERAL.format(names=names))
            found.append(Slot(_slot_name(told, port), mount.path, seen, port))
        called = Counter(slot.name for slot in found)
        for slot in found:
            twin = called[slot.name] > 1
            yield replace(slot, name=f"{slot.name} at {_short(slot.port)}"[:80]) if twin else slot

    def pulse(self) -> object:
        try:
            return (self._root / "proc/self/mountinfo").read_bytes()
        except OSError:
            return b""

    def open(self, slot_path: str, levels_up: int) -> RemovableSource:
        return FolderSource(card_path(slot_path, levels_up))

    def release(self, slot_path: str) -> str:
        """Unmount it, which writes out what was kept back (umount(8)), and have the system let go of the medium."""
        mount = next((one for one in read_mounts(self.pulse()) if one.path == slot_path), None)
        if mount is None:
            return ""
        trouble = _said_by(["umount", slot_path])
        if trouble and which("udisksctl"):
            trouble = _said_by(["udisksctl", "unmount", "--no-user-interaction", "-p", self._block_object(mount)])
        if trouble:
            return trouble
        disk = self._disk(mount)
        if not self._is_taken_out(disk):  # a magazine that is a disk of its own; a reader stays for the next card
            with suppress(OSError):  # where it cannot be switched off it may be pulled all the same: it is not mounted
                (disk / "device/delete").write_text("1")
        return ""

    def _block_object(self, mount: Mount) -> str:
        """As udisks(8) names a block device."""
        return f"block_devices/{self._block(mount.device).name}"

    def _cards(self) -> dict[Path, Mount]:
        """For each medium that is taken out, and is not one of our own drives, a mount that shows a file system whole.

        By the medium and not by the mount: of a card with two partitions neither speaks for the other.
        """
        found: dict[Path, Mount] = {}
        ours = set()
        for mount in read_mounts(self.pulse()):
            disk = self._disk(mount)
            if mount.file_system in _FILE_SYSTEMS and mount.root == "/" and self._may_be_a_card(disk, mount):
                found.setdefault(disk, mount)
                if self._is_store(mount):
                    ours.add(disk)
        return {disk: mount for disk, mount in found.items() if disk not in ours}

    def port_at(self, path: str) -> str:
        """What the medium that is mounted at a path hangs on; empty where nothing is."""
        mount = next((one for one in read_mounts(self.pulse()) if one.path == path), None)
        return self._port(self._udev(mount.device), mount) if mount and self._block(mount.device).exists() else ""

    def _may_be_a_card(self, disk: Path, mount: Mount) -> bool:
        """It is taken out of a reader, as the kernel says, or as somebody said of its port."""
        return self._is_taken_out(disk) or self._port(self._udev(mount.device), mount) in said_ports

    def _is_store(self, mount: Mount) -> bool:
        """Asked apart: a medium that hangs says so in its own slot, and holds up no other."""
        marker = Path(mount.path, _MARKER)
        try:
            found = _apart.ask((mount.number, mount.path), marker.exists, _PATIENCE_S)
        except (NotAnswering, OSError):
            self._silent.add(mount.path)
            return False
        self._silent.discard(mount.path)
        return found

    def _block(self, device: str) -> Path:
        return (self._root / "sys/dev/block" / device).resolve()

    def _disk(self, mount: Mount) -> Path:
        block = self._block(mount.device)
        return block.parent if (block / "partition").exists() else block

    @staticmethod
    def _is_taken_out(disk: Path) -> bool:
        return _text(disk / "removable") == "1" or disk.name.startswith("mmcblk")

    def _others(self, disk: Path, mount: Mount) -> list[str]:
        """The medium's other partitions, but for those that are known to hold nothing of a camera's."""
        here = self._block(mount.device)
        found = []
        for mark in disk.glob("*/partition"):
            if mark.parent != here:
                told = self._udev(_text(mark.parent / "dev"))
                if told.get("ID_PART_ENTRY_TYPE", "").lower() not in _BARE_PARTITIONS:
                    found.append(mark.parent.name)
        return found

    def _udev(self, device: str) -> dict[str, str]:
        return _properties(self._root / "run/udev/data" / f"b{device}")

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
        disk = self._disk(mount)
        place = str(disk).partition("/devices/")[2] or str(disk)
        where = re.sub(r"/host\d+/target[\d:]+/\d+:\d+:\d+:(\d+)/block/\w+$", r" slot \1", place)
        return where[-200:]

    def _capacity(self, mount: Mount) -> int:
        """sysfs counts sectors of 512 bytes whatever the medium's own are."""
        try:
            return 512 * int(_text(self._block(mount.device) / "size"))
        except ValueError:
            return 0


_RELEASE_S = 10


def _said_by(command: list[str]) -> str:
    """Run a program of the system; empty if it did what it was asked, else what it said."""
    try:
        done = subprocess.run(command, capture_output=True, text=True, timeout=_RELEASE_S, check=False)
    except (OSError, subprocess.TimeoutExpired) as error:
        return f"{command[0]} did not answer ({type(error).__name__})"
    said = " ".join((done.stderr or done.stdout).split())
    return "" if done.returncode == 0 else said[:250] or f"{command[0]} failed"


def _text(path: Path) -> str:
    """What a small file of the kernel says; empty where there is none."""
    try:
        return path.read_text().strip()
    except OSError:
        return ""


def _unescaped(text: str) -> str:
    return re.sub(r"\\x([0-9a-f]{2})", lambda found: chr(int(found[1], 16)), text)[:80]


def _properties(path: Path) -> dict[str, str]:
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
