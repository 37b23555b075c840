"""Which physical devices lie under a folder?

Through every layer: partitions, volumes, encryption, RAID, file systems of several devices, files that pass for
devices, overlays, and mounts from servers.

Sources: proc(5) for mountinfo, sysfs(5), btrfs(5), overlayfs and loop documentation of the Linux kernel, udev(7),
blkid(8), nfs(5), mount.cifs(8).
"""

import re
from pathlib import Path

from cachetools import LRUCache

from .blkid import ask_blkid
from .mount_table import Mount, read_mounts

UNKNOWN = "unknown"
"""Stands in a set of identities for whatever the machine cannot tell. So all of what it cannot tell is one device."""

_SERVERS = {"nfs", "nfs4", "cifs", "smb3", "smbfs", "afs", "ceph", "fuse.sshfs"}
_MEMORY = {"tmpfs", "ramfs", "devtmpfs", "hugetlbfs"}
_MOST_LAYERS = 16


class DeviceTree:
    """The devices of this machine, or those of the trees beneath `root` (for tests)."""

    def __init__(self, root: Path = Path("/")) -> None:
        self._root = root

    def under(self, folder: Path) -> frozenset[str]:
        """Identities that last: serial numbers, world wide names, UUIDs; `UNKNOWN` for what cannot be told.

        Raises OSError where there is no folder.
        """
        real = folder.resolve(strict=True)
        return self._of_path(str(real), 0) or frozenset({UNKNOWN})

    def mount_of(self, path: str) -> Mount | None:
        """The mount that a path lies on: of those at the longest path above it, the last one hides the others."""
        best = None
        for mount in self.mounts():
            inside = mount.path == "/" or path == mount.path or path.startswith(mount.path + "/")
            if inside and (best is None or len(mount.path) >= len(best.path)):
                best = mount
        return best

    def mounts(self) -> list[Mount]:
        """Every mount of this machine, in the kernel's order. Raises OSError."""
        return list(read_mounts((self._root / "proc/self/mountinfo").read_bytes()))

    def volume_id(self, mount: Mount) -> str:
        """The file system's own UUID; empty where it has none, or none is known."""
        number = self._number_under(mount)
        if not number:
            return ""
        told = self._told(number)
        return told.get("ID_FS_UUID") or self._uuid_by_blkid(number)

    def label(self, mount: Mount) -> str:
        """What its maker or owner calls it: the file system's label, else the disk's model; or empty."""
        number = self._number_under(mount)
        told = self._told(number) if number else {}
        return (told.get("ID_FS_LABEL") or told.get("ID_MODEL") or "").replace("_", " ").strip()[:60]

    def is_removable(self, mount: Mount) -> bool:
        """Whether its medium is taken out of a reader, as a card is."""
        number = self._number_under(mount)
        block = (self._root / "sys/dev/block" / number).resolve() if number else None
        if block is None:
            return False
        disk = block.parent if (block / "partition").exists() else block
        return _read(disk / "removable") == "1" or disk.name.startswith("mmcblk")

    def spins(self, mount: Mount) -> bool:
        """Whether the kernel takes it for a disk with platters."""
        number = self._number_under(mount)
        block = (self._root / "sys/dev/block" / number).resolve() if number else None
        if block is None:
            return False
        disk = block.parent if (block / "partition").exists() else block
        return _read(disk / "queue" / "rotational") == "1"

    def _number_under(self, mount: Mount) -> str | None:
        return mount.device if not mount.device.startswith("0:") else self._number_of(mount.source)

    def _told(self, number: str) -> dict[str, str]:
        return _udev(self._root / "run/udev/data" / f"b{number}")

    def _uuid_by_blkid(self, number: str) -> str:
        block = (self._root / "sys/dev/block" / number).resolve()
        if not block.exists():
            return ""
        disk = block.parent if (block / "partition").exists() else block
        return _blkid(str(self._root / "dev" / block.name), _read(disk / "diskseq"), ("UUID",))

    def _of_path(self, path: str, depth: int) -> frozenset[str]:
        mount = self.mount_of(path)
        if mount is None or depth > _MOST_LAYERS:
            return frozenset({UNKNOWN})
        if mount.file_system in _MEMORY:
            return frozenset({"memory of this machine"})
        if mount.file_system in _SERVERS:
            return _servers(mount)
        if mount.file_system == "overlay":
            return self._of_overlay(mount, depth)
        if mount.file_system == "btrfs":
            return self._of_btrfs(mount, depth)
        if mount.file_system == "bcachefs":
            return self._of_nodes(mount.source.split(":"), depth)
        number = mount.device if not mount.device.startswith("0:") else self._number_of(mount.source)
        return self._of_block(number, depth) if number else frozenset({UNKNOWN})

    def _of_overlay(self, mount: Mount, depth: int) -> frozenset[str]:
        told = dict(option.split("=", 1) for option in re.split(r"(?<!\\),", mount.options) if "=" in option)
        folders = [told.get("upperdir", ""), *re.split(r"(?<!\\):", told.get("lowerdir", ""))]
        found = [self._of_path(folder, depth + 1) for folder in folders if folder.startswith("/")]
        return frozenset().union(*found) if found else frozenset({UNKNOWN})

    def _of_btrfs(self, mount: Mount, depth: int) -> frozenset[str]:
        """Every member: a file may lie on any of them. A subvolume has a number of its own, which says nothing."""
        name = mount.source.rpartition("/")[2]
        real = (self._root / mount.source.lstrip("/")).resolve().name
        for devices in sorted((self._root / "sys/fs/btrfs").glob("*/devices")):
            members = [member.name for member in devices.iterdir()]
            if name in members or real in members:
                return self._of_nodes([f"/dev/{member}" for member in members], depth)
        number = self._number_of(mount.source)
        return self._of_block(number, depth) if number else frozenset({UNKNOWN})

    def _of_nodes(self, nodes: list[str], depth: int) -> frozenset[str]:
        found = []
        for node in nodes:
            number = self._number_of(node)
            found.append(self._of_block(number, depth + 1) if number else frozenset({UNKNOWN}))
        return frozenset().union(*found)

    def _number_of(self, node: str) -> str | None:
        """major:minor of a device's name, as sysfs has it."""
        if not node.startswith("/dev/"):
            return None
        name = (self._root / node.lstrip("/")).resolve().name
        try:
            return (self._root / "sys/class/block" / name / "dev").read_text().strip()
        except OSError:
            return None

    def _of_block(self, number: str, depth: int) -> frozenset[str]:
        link = self._root / "sys/dev/block" / number
        if depth > _MOST_LAYERS or not link.exists():
            return frozenset({UNKNOWN})
        block = link.resolve()
        if (block / "partition").exists():
            return self._of_block(_read(block.parent / "dev"), depth + 1)
        slaves = sorted((block / "slaves").iterdir()) if (block / "slaves").is_dir() else []
        if slaves:
            return frozenset().union(*(self._of_block(_read(slave / "dev"), depth + 1) for slave in slaves))
        if (block / "loop" / "backing_file").exists():
            return self._of_loop(_read(block / "loop" / "backing_file"), depth)
        if block.name.startswith(("ram", "zram")):
            return frozenset({"memory of this machine"})
        return self._of_disk(block, number)

    def _of_loop(self, file: str, depth: int) -> frozenset[str]:
        """A file that passes for a device: what matters is what the file lies on."""
        if not file.startswith("/") or file.endswith(" (deleted)"):
            return frozenset({UNKNOWN})
        return self._of_path(file, depth + 1)

    def _of_disk(self, disk: Path, number: str) -> frozenset[str]:
        told = _udev(self._root / "run/udev/data" / f"b{number}")
        names = ("wwid", "device/wwid", "serial", "device/serial", "device/cid")
        found = {_read(disk / name) for name in names} | {told.get("ID_WWN", ""), told.get("ID_SERIAL", "")}
        lasting = {f"disk {word}" for word in (_plain(word) for word in found) if word}
        if lasting:
            return frozenset(lasting)
        table = told.get("ID_PART_TABLE_UUID") or told.get("ID_FS_UUID") or self._ask_blkid(disk)
        return frozenset({f"disk {table}"}) if table else frozenset({UNKNOWN})

    def _ask_blkid(self, disk: Path) -> str:
        """The UUID of the partition table, or of the file system where there is none. It comes back with the disk."""
        return _blkid(str(self._root / "dev" / disk.name), _read(disk / "diskseq"))


def _servers(mount: Mount) -> frozenset[str]:
    """A server by its name and by its address: two names for one server are one."""
    told = dict(option.split("=", 1) for option in mount.options.split(",") if "=" in option)
    source = mount.source
    name = source[2:].split("/")[0] if source.startswith("//") else source.rpartition(":")[0] or source
    names = {name.rpartition("@")[2].strip("[]").lower(), told.get("addr", "").lower()}
    found = {f"server {word}" for word in names if word}
    return frozenset(found) or frozenset({UNKNOWN})


def _blkid(node: str, sequence: str, asked_for: tuple[str, ...] = ("PTUUID", "UUID")) -> str:
    """sequence: the kernel's number of this appearance of a disk, so that another one is asked anew.

    What was told is remembered; that nothing was told is not: it may have been too busy to answer.
    """
    key = (node, sequence, asked_for)
    if key not in _told_by_blkid:
        told = next(filter(None, (ask_blkid(node, word) for word in asked_for)), "")
        if not told:
            return ""
        _told_by_blkid[key] = told
    return _told_by_blkid[key]


_told_by_blkid: LRUCache[tuple[str, str, tuple[str, ...]], str] = LRUCache(64)


def _read(path: Path) -> str:
    try:
        return path.read_text(errors="replace").strip()
    except OSError:
        return ""


def _plain(word: str) -> str:
    """A serial number that says something: makers who did not care wrote zeros."""
    word = re.sub(r"\s+", " ", word.replace("\0", " ")).strip()
    return "" if not word.strip("0. ") else word


def _udev(path: Path) -> dict[str, str]:
    """The properties udev keeps of a device: lines `E:NAME=value`."""
    lines = _read(path).splitlines()
    return dict(line[2:].split("=", 1) for line in lines if line.startswith("E:") and "=" in line)


def same_mount(one: Path, other: Path) -> bool:
    """Whether two folders lie on one mounted file system. Raises OSError."""
    return one.stat().st_dev == other.stat().st_dev
