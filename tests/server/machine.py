"""A machine with disks and cards of its own: a mount namespace in which loop devices pass for real ones.

What the kernel tells of them is covered by other files: that they are made of files, what their serials are, and which
of them are taken out. Everything else is real: file systems, mounts, the mount table.
"""

import os
import shutil
import subprocess
import tempfile
import time
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

_MAKE = {
    "ext4": ["mkfs.ext4", "-q", "-F"], "xfs": ["mkfs.xfs", "-q", "-f"], "btrfs": ["mkfs.btrfs", "-q", "-f"],
    "exfat": ["mkfs.exfat"],
}  # fmt: skip
_MOUNT = {"exfat": ["mount.exfat-fuse"]}
_START = "mkdir -p /run/udev && mount -t tmpfs none /run/udev && mkdir /run/udev/data && echo ready && exec sleep 3600"


def can_pretend() -> bool:
    """Whether this machine lets us: it needs root, loop devices and namespaces."""
    if os.geteuid() != 0 or not shutil.which("mkfs.exfat"):
        return False
    with tempfile.TemporaryDirectory() as folder, suppress(OSError, subprocess.CalledProcessError):
        machine = Machine(Path(folder))
        try:
            machine.disk("probe", "ext4", 8, serial="PROBE").mount()
            return True
        finally:
            machine.end()
    return False


@dataclass
class Disk:
    """A disk or a card, and where it is mounted when it is plugged in."""

    machine: "Machine"
    node: str
    kind: str
    place: Path

    def mount(self, place: Path | None = None, *options: str) -> Path:
        """Plug it in. place: another mount point than the last time"""
        self.place = place or self.place
        self.place.mkdir(parents=True, exist_ok=True)
        self.machine.run(*_MOUNT.get(self.kind, ["mount"]), *options, self.node, str(self.place))
        return self.place

    def put_into_reader(self) -> None:
        """From now on the kernel says that it can be taken out."""
        removable = f"/sys/devices/virtual/block/{Path(self.node).name}/removable"
        self.machine.run("mount", "--bind", str(self.machine.says_yes), removable)

    def unmount(self) -> None:
        for _ in range(50):
            if self.machine.tried("umount", str(self.place)):
                return
            time.sleep(0.1)
        self.machine.run("umount", "-l", str(self.place))


class Machine:
    def __init__(self, base: Path) -> None:
        self._base = base / "machine"
        self._base.mkdir()
        self.says_yes = self._base / "one"
        self.says_yes.write_text("1\n")
        (self._base / "nothing").mkdir()
        self._nodes: list[str] = []
        words = ["unshare", "--mount", "--propagation", "private", "sh", "-c", _START]
        self._holder = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        if self._holder.stdout is None or self._holder.stdout.readline().strip() != "ready":
            raise OSError("no namespace of our own")

    def inside(self, cwd: Path | str = "/") -> list[str]:
        """What a command begins with that is to see this machine's mounts."""
        return ["nsenter", f"--mount=/proc/{self._holder.pid}/ns/mnt", f"--wdns={cwd}", "--"]

    def run(self, *words: str) -> str:
        done = subprocess.run([*self.inside(), *words], check=True, capture_output=True, text=True)
        return done.stdout.strip()

    def tried(self, *words: str) -> bool:
        return subprocess.run([*self.inside(), *words], capture_output=True).returncode == 0

    def disk(self, name: str, kind: str, mebibytes: int, *, serial: str) -> Disk:
        """kind: its file system; empty for none. serial: what udev tells of it; two with one serial are one device"""
        image = self._base / f"{name}.img"
        with image.open("wb") as file:
            file.truncate(mebibytes << 20)
        if kind:
            subprocess.run([*_MAKE[kind], str(image)], check=True, capture_output=True)
        node = self.run("losetup", "--find", "--show", str(image))
        self._nodes.append(node)
        block = f"/sys/devices/virtual/block/{Path(node).name}"
        self.run("mount", "--bind", str(self._base / "nothing"), f"{block}/loop")
        plug = f"pci-0000:00:14.0-usb-0:{len(self._nodes)}:1.0-scsi-0:0:0:0"
        uuid = self.run("blkid", "-p", "-s", "UUID", "-o", "value", node) if kind else ""
        known = {"ID_SERIAL": serial, "ID_MODEL": name, "ID_PATH": plug, "ID_FS_UUID": uuid}
        told = "".join(f"E:{name}={value}\\n" for name, value in known.items())
        self.run("sh", "-c", f"printf '{told}' > /run/udev/data/b$(cat {block}/dev)")
        return Disk(self, node, kind, self._base / "mnt" / name)

    def end(self) -> None:
        for disk in sorted((self._base / "mnt").glob("*")) if (self._base / "mnt").exists() else []:
            self.tried("umount", "-l", str(disk))
        for node in self._nodes:
            self.tried("losetup", "-d", node)
        self._holder.kill()
        self._holder.wait()
        if self._holder.stdout:
            self._holder.stdout.close()
