"""Which physical device is behind a folder? Asked of the system, never of a person."""

import os
from pathlib import Path
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ruggedraft.core.errors import StoreVanished, why
from ruggedraft.core.naming import BY_KERNEL_NAME, EXT
from ruggedraft.core.stores import LocalStore, Room

from .mount_table import read_mounts


class DeviceProbe(Protocol):
    def identity(self, folder: Path) -> str:
        """The same text for any two folders on one physical device. Raises OSError."""

    def is_system_disk(self, folder: Path) -> bool: ...

    def room(self, folder: Path) -> Room: ...

    def file_system(self, folder: Path) -> str:
        """A name of `core.naming.FILE_SYSTEMS`. Raises OSError."""


class SystemDeviceProbe:
    """Linux: the whole disk behind a file system (partitions of one disk are one device; sysfs(5))."""

    def identity(self, folder: Path) -> str:
        number = folder.stat().st_dev
        node = Path(f"/sys/dev/block/{os.major(number)}:{os.minor(number)}")
        if not node.exists():
            return f"filesystem:{number}"
        block = node.resolve()
        disk = block.parent if (block / "partition").exists() else block
        serial = next((name for name in ("device/serial", "serial", "device/wwid") if (disk / name).exists()), None)
        words = (disk / serial).read_text(errors="replace").strip() if serial else ""
        return f"disk:{words}" if words else f"disk:{disk.name}"

    def is_system_disk(self, folder: Path) -> bool:
        return self.identity(folder) == self.identity(Path("/"))

    def room(self, folder: Path) -> Room:
        return LocalStore(str(folder), folder).room()

    def file_system(self, folder: Path) -> str:
        number = folder.stat().st_dev
        device = f"{os.major(number)}:{os.minor(number)}"
        mounts = read_mounts(Path("/proc/self/mountinfo").read_bytes())
        kinds = (BY_KERNEL_NAME.get(mount.file_system) for mount in mounts if mount.device == device)
        return (next(kinds, None) or EXT).name


def device_probe() -> DeviceProbe:
    probe: DeviceProbe = import_string(settings.DEVICE_PROBE)()
    return probe


MARKER = ".raft-store"
"""A small file in a store's folder that names it: an empty mount point has none, a drive elsewhere still does."""


def open_store(name: str, path: str, uuid: str, device_identity: str) -> LocalStore:
    """The store at this path, if it is really this store on this device. Raises StoreVanished with a sentence."""
    folder = Path(path)
    try:
        marked = (folder / MARKER).read_text().strip()
        identity = device_probe().identity(folder)
    except OSError as error:
        raise StoreVanished(f"'{name}' is not connected: nothing of it is at {path} ({why(error)})") from error
    if marked != uuid:
        raise StoreVanished(f"'{name}' is not connected: another store is at {path}")
    if identity != device_identity:
        raise StoreVanished(f"'{name}' is on another device than the ledger knows; it may not count as it did")
    return LocalStore(name, folder)
