"""What a station's machine tells of a folder that is or may become a store; asked of the system, never of a person."""

import os
from pathlib import Path
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ruggedraft.core.machine.devices import UNKNOWN, DeviceTree, same_mount
from ruggedraft.core.machine.mount_table import read_mounts
from ruggedraft.core.naming import BY_KERNEL_NAME, EXT
from ruggedraft.core.stores import LocalStore, Room


class DeviceProbe(Protocol):
    def under(self, folder: Path) -> frozenset[str]:
        """Identities of every physical device under a folder, `devices.UNKNOWN` among them for what cannot be told.

        Raises OSError.
        """

    def is_system_disk(self, folder: Path) -> bool: ...

    def room(self, folder: Path) -> Room: ...

    def store(self, name: str, folder: Path) -> LocalStore:
        """A folder, opened as a store of this name. Raises StoreVanished."""

    def file_system(self, folder: Path) -> str:
        """A name of `core.naming.FILE_SYSTEMS`. Raises OSError."""


class SystemDeviceProbe:
    """Linux."""

    def under(self, folder: Path) -> frozenset[str]:
        return DeviceTree().under(folder)

    def is_system_disk(self, folder: Path) -> bool:
        root = Path("/")
        return same_mount(folder, root) or bool((self.under(folder) & self.under(root)) - {UNKNOWN})

    def room(self, folder: Path) -> Room:
        return LocalStore(str(folder), folder).room()

    def store(self, name: str, folder: Path) -> LocalStore:
        return LocalStore(name, folder)

    def file_system(self, folder: Path) -> str:
        number = folder.stat().st_dev
        device = f"{os.major(number)}:{os.minor(number)}"
        mounts = read_mounts(Path("/proc/self/mountinfo").read_bytes())
        kinds = (BY_KERNEL_NAME.get(mount.file_system) for mount in mounts if mount.device == device)
        return (next(kinds, None) or EXT).name


def device_probe() -> DeviceProbe:
    probe: DeviceProbe = import_string(settings.DEVICE_PROBE)()
    return probe
