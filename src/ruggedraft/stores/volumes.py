"""What is plugged into this machine and could keep copies, with what speaks for and against each."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from ruggedraft.core.apart import Apart, NotAnswering
from ruggedraft.core.machine.devices import UNKNOWN, DeviceTree
from ruggedraft.core.machine.mount_table import Mount, caches_on_disk
from ruggedraft.kit.models import Medium

_FROM_SERVERS = {"nfs", "nfs4", "cifs", "smb3", "ceph", "fuse.sshfs"}
_KEEPS_FILES = _FROM_SERVERS | {
    "ext2", "ext3", "ext4", "xfs", "btrfs", "bcachefs", "f2fs", "exfat", "vfat", "ntfs", "ntfs3", "fuseblk", "hfsplus",
    "apfs", "zfs",
}  # fmt: skip
_THE_SYSTEMS = ("/boot", "/proc", "/sys", "/dev", "/etc", "/usr", "/var/lib", "/snap", "/efi")
"""Beneath these nobody keeps copies: what is mounted there belongs to the system, or to a container's files."""
_LITTLE_ROOM = 64 * 10**9
_PATIENCE_S = 2.0
_apart = Apart()


@dataclass(frozen=True)
class Volume:
    """A mounted file system that files can be kept on.

    marked: the uuid of the store that it is marked as, or empty
    devices: identities of what lies under it, as `devices` tells them
    volume_id: the file system's own UUID, or empty where it has none
    unproven: why what is read there may come from this machine and not from the medium; empty: it does not
    hangs: nothing more is known of it, as it does not answer
    """

    path: str
    file_system: str
    free: int = 0
    total: int = 0
    devices: frozenset[str] = frozenset({UNKNOWN})
    volume_id: str = ""
    label: str = ""
    read_only: bool = False
    system_disk: bool = False
    removable: bool = False
    marked: str = ""
    hangs: bool = False
    server: bool = False
    unproven: str = ""
    spins: bool = False
    shares_with: tuple[str, ...] = field(default=())

    @property
    def usable(self) -> bool:
        """Whether it can become a store that counts."""
        return not (self.hangs or self.read_only or self.system_disk or self.marked)


def volumes(tree: DeviceTree | None = None) -> list[Volume]:
    """By path, each asked apart from the others. Those that lie on one device name one another."""
    tree = tree or DeviceTree()
    found = [_asked(mount, tree) for mount in _whole_file_systems(tree.mounts())]
    return sorted((_with_neighbours(one, found) for one in found), key=lambda volume: volume.path)


def volume_at(folder: Path, tree: DeviceTree | None = None) -> tuple[str, str]:
    """Of the file system that a folder lies on: its own UUID, and where in it the folder is. Raises OSError."""
    tree = tree or DeviceTree()
    real = folder.resolve(strict=True)
    mount = tree.mount_of(str(real))
    if mount is None:
        return "", ""
    return tree.volume_id(mount), str(real.relative_to(mount.path)) if mount.path != "/" else str(real)[1:]


def places_of(inside: str, volume_id: str, tree: DeviceTree | None = None) -> list[Path]:
    """Where a folder that lies so deep inside a file system of this UUID may be at present, on this machine."""
    tree = tree or DeviceTree()
    return [
        Path(mount.path, inside)
        for mount in _whole_file_systems(tree.mounts())
        if not volume_id or tree.volume_id(mount) == volume_id
    ]


def belongs_to_the_system(folder: Path) -> bool:
    """Whether a folder is where the system, or a container, keeps its own."""
    return any(folder.is_relative_to(place) for place in _THE_SYSTEMS)


def _whole_file_systems(mounts: Iterable[Mount]) -> list[Mount]:
    """Each once, where it is mounted whole, at its shortest path; what the system keeps for itself is left out."""
    found: dict[str, Mount] = {}
    for mount in mounts:
        kept = mount.file_system in _KEEPS_FILES and (mount.root == "/" or mount.file_system in ("btrfs", "bcachefs"))
        if kept and not belongs_to_the_system(Path(mount.path)):
            key = f"{mount.device} {mount.root} {mount.source}"
            if key not in found or len(mount.path) < len(found[key].path):
                found[key] = mount
    return list(found.values())


def _asked(mount: Mount, tree: DeviceTree) -> Volume:
    try:
        return _apart.ask((mount.number, mount.path), lambda: _looked_at(mount, tree), _PATIENCE_S)
    except (NotAnswering, OSError):
        return Volume(mount.path, mount.file_system, hangs=True)


def _looked_at(mount: Mount, tree: DeviceTree) -> Volume:
    from .folders import MARKER
    from .probe import device_probe

    folder = Path(mount.path)
    probe = device_probe()
    room = probe.room(folder)
    marker = folder / MARKER
    return Volume(
        path=mount.path,
        file_system=mount.file_system,
        free=room.free,
        total=room.total,
        devices=probe.under(folder),
        volume_id=tree.volume_id(mount),
        label=tree.label(mount),
        read_only=mount.read_only,
        system_disk=probe.is_system_disk(folder),
        removable=tree.is_removable(mount),
        marked=marker.read_text(errors="replace").strip()[:40] if marker.is_file() else "",
        spins=tree.spins(mount),
        server=mount.file_system in _FROM_SERVERS,
        unproven=_unproven(mount),
    )


def _unproven(mount: Mount) -> str:
    if mount.file_system.startswith("fuse"):
        return "a program of this computer serves it, and may keep what it read"
    if mount.file_system in _FROM_SERVERS and caches_on_disk(mount):
        return "it is mounted with a cache on this computer's disk (fsc)"
    return ""


def _with_neighbours(one: Volume, every: Iterable[Volume]) -> Volume:
    mine = one.devices - {UNKNOWN}
    shared = tuple(other.path for other in every if other.path != one.path and mine & other.devices)
    return Volume(**{**one.__dict__, "shares_with": shared})


def medium_of(volume: Volume) -> str:
    """A kind of `kit.models.Medium`, as far as can be told: people may know better."""
    return Medium.NETWORK.value if volume.server else Medium.DISK.value if volume.spins else Medium.SSD.value


def speaks_against(volume: Volume) -> list[str]:
    """What a person should know before copies go there, gravest first, in sentences."""
    if volume.hangs:
        return ["It does not answer: look at its plug and its lights."]
    told = (
        (
            volume.system_disk,
            "It is this computer's own disk: a copy there goes when the computer goes, and never counts.",
        ),
        (volume.read_only, "It is mounted read-only: nothing can be written to it."),
        (volume.marked, "It is marked as a store already, of this ledger or another."),
        (
            volume.shares_with,
            f"It is on one disk with {', '.join(volume.shares_with)}: copies on both are on one device.",
        ),
        (
            UNKNOWN in volume.devices,
            "This machine cannot tell what it stands on: it is one device with whatever else cannot be told.",
        ),
        (
            volume.server,
            f"It lies on a server ({_server(volume)}): whatever lies on that server is one device with it.",
        ),
        (volume.unproven, f"Copies there are written but never count as read back: {volume.unproven}."),
        (
            volume.removable,
            "It can be taken out like a card: until copies go to it, it hangs on the Bench as one.",
        ),
        (volume.free < _LITTLE_ROOM, f"It has little room: {volume.free / 1e9:.1f} GB are free."),
    )
    return [sentence for holds, sentence in told if holds]


def _server(volume: Volume) -> str:
    names = sorted(name.removeprefix("server ") for name in volume.devices - {UNKNOWN})
    return " or ".join(names) or "it is not told which"
