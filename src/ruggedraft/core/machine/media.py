"""Media in readers that nobody has mounted: mounted read-only where that is wanted, and let go when they are gone.

Sources: sysfs(5) for `removable` and `size`, blkid(8) for what is on a medium, mount(8).
"""

import subprocess
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from .blkid import ask_blkid
from .mount_table import Mount, read_mounts

_OPTIONS = "ro,nosuid,nodev,noexec"
_READABLE = {"vfat", "exfat", "ntfs", "ext2", "ext3", "ext4", "hfsplus", "udf", "xfs", "f2fs", "iso9660"}
_USER_SPACE = {"exfat": "mount.exfat-fuse", "ntfs": "ntfs-3g"}
_PATIENCE_S = 20


@dataclass(frozen=True)
class Medium:
    """A medium in a reader with nothing of it mounted. trouble: why, in a sentence for whoever holds it

    node: such as /dev/sdb1. number: major:minor. bytes: its size. kind: its file system, or empty
    """

    node: str
    number: str
    bytes: int
    kind: str
    trouble: str


def mount_media(folder: Path, root: Path = Path("/")) -> list[Medium]:
    """Mount every medium that lies in a reader and is not mounted, each into a folder of its own beneath `folder`.

    Returns those that cannot be. Media that were mounted here and are gone are let go. Needs root.
    """
    mounts = list(read_mounts((root / "proc/self/mountinfo").read_bytes()))
    _let_go(folder, mounts, root)
    return [medium for medium in unmounted(root) if not _mounted(medium, folder)]


def unmounted(root: Path = Path("/")) -> Iterator[Medium]:
    """Media of which nothing is mounted. Of one with partitions the first that holds a file system speaks for it."""
    there = {mount.device for mount in read_mounts((root / "proc/self/mountinfo").read_bytes())}
    for disk in sorted((root / "sys/block").glob("*")):
        if _is_taken_out(disk) and _size(disk):
            blocks = [part.parent for part in sorted(disk.glob("*/partition"))] or [disk]
            if not there & {_read(block / "dev") for block in (disk, *blocks)}:
                yield _medium(blocks)


def _medium(blocks: Sequence[Path]) -> Medium:
    kinds = [(block, ask_blkid(f"/dev/{block.name}", "TYPE")) for block in blocks]
    block, kind = next((one for one in kinds if one[1]), kinds[0])
    return Medium(f"/dev/{block.name}", _read(block / "dev"), _size(block), kind, _why_not(kind))


def _mounted(medium: Medium, folder: Path) -> bool:
    if medium.kind not in _READABLE:
        return False
    place = folder / Path(medium.node).name
    place.mkdir(parents=True, exist_ok=True)
    ways = [["mount", "-t", medium.kind, "-o", _OPTIONS]]
    if medium.kind in _USER_SPACE:
        ways.append([_USER_SPACE[medium.kind], "-o", _OPTIONS])
    return any(_runs([*way, medium.node, str(place)]) for way in ways)


def _let_go(folder: Path, mounts: list[Mount], root: Path) -> None:
    """A medium that is gone leaves its mount behind: files can be asked for there, and none is ever found."""
    for mount in mounts:
        if Path(mount.path).parent == folder and not _size((root / "sys/dev/block" / mount.device).resolve()):
            _runs(["umount", "-l", mount.path])


def _why_not(kind: str) -> str:
    if not kind:
        return (
            "Nothing that can be read was found on this card: it is empty, damaged, or of an unknown kind. "
            "Do not format it before somebody has looked at it in its camera."
        )
    if kind.startswith("crypto_"):
        return "This card is encrypted: unlock and mount it by hand; then it is read. Nothing of it is known."
    if kind not in _READABLE:
        return f"This card's file system ({kind}) is not read here: mount it by hand. Nothing of it is known."
    return f"This card could not be mounted, although it has a {kind} file system: it may be damaged. Mount it by hand."


def _is_taken_out(disk: Path) -> bool:
    return _read(disk / "removable") == "1" or disk.name.startswith("mmcblk")


def _size(block: Path) -> int:
    """Bytes; sysfs counts sectors of 512, and none where no medium lies in the reader."""
    words = _read(block / "size")
    return 512 * int(words) if words.isdigit() else 0


def _runs(words: list[str]) -> bool:
    try:
        return subprocess.run(words, capture_output=True, timeout=_PATIENCE_S).returncode == 0
    except (OSError, subprocess.TimeoutExpired):
        return False


def _read(path: Path) -> str:
    try:
        return path.read_text(errors="replace").strip()
    except OSError:
        return ""
