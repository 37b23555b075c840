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
    if os.geteuid() != 0 or not shutil.which("mkfs.exfat") or not shutil.which("ip"):
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
    """name: of its folder. wire: what it is plugged into with a network of its own; None: it has this machine's"""

    def __init__(self, base: Path, name: str = "machine", wire: "Wire | None" = None) -> None:
        self.base = base / name
        self.base.mkdir()
        self.says_yes = self.base / "one"
        self.says_yes.write_text("1\n")
        (self.base / "nothing").mkdir()
        self._nodes: list[str] = []
        self._apart = ["--mount", *(["--net"] if wire else [])]
        words = ["unshare", *self._apart, "--propagation", "private", "sh", "-c", _START]
        self._holder = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        if self._holder.stdout is None or self._holder.stdout.readline().strip() != "ready":
            raise OSError("no namespace of our own")
        self.pid = self._holder.pid
        self.address = wire.plug_in(self._holder.pid) if wire else "127.0.0.1"

    def inside(self, cwd: Path | str = "/") -> list[str]:
        """What a command begins with that is to see this machine's mounts."""
        home = f"/proc/{self._holder.pid}/ns"
        spaces = [f"{word}={home}/{'mnt' if word == '--mount' else 'net'}" for word in self._apart]
        return ["nsenter", *spaces, f"--wdns={cwd}", "--"]

    def run(self, *words: str) -> str:
        done = subprocess.run([*self.inside(), *words], check=True, capture_output=True, text=True)
        return done.stdout.strip()

    def tried(self, *words: str) -> bool:
        return subprocess.run([*self.inside(), *words], capture_output=True).returncode == 0

    def disk(self, name: str, kind: str, mebibytes: int, *, serial: str) -> Disk:
        """kind: its file system; empty for none. serial: what udev tells of it; two with one serial are one device"""
        image = self.base / f"{name}.img"
        with image.open("wb") as file:
            file.truncate(mebibytes << 20)
        if kind:
            subprocess.run([*_MAKE[kind], str(image)], check=True, capture_output=True)
        node = self.run("losetup", "--find", "--show", str(image))
        self._nodes.append(node)
        block = f"/sys/devices/virtual/block/{Path(node).name}"
        self.run("mount", "--bind", str(self.base / "nothing"), f"{block}/loop")
        plug = f"pci-0000:00:14.0-usb-0:{len(self._nodes)}:1.0-scsi-0:0:0:0"
        uuid = self.run("blkid", "-p", "-s", "UUID", "-o", "value", node) if kind else ""
        known = {"ID_SERIAL": serial, "ID_MODEL": name, "ID_PATH": plug, "ID_FS_UUID": uuid}
        told = "".join(f"E:{name}={value}\\n" for name, value in known.items())
        self.run("sh", "-c", f"printf '{told}' > /run/udev/data/b$(cat {block}/dev)")
        return Disk(self, node, kind, self.base / "mnt" / name)

    def end(self) -> None:
        for disk in sorted((self.base / "mnt").glob("*")) if (self.base / "mnt").exists() else []:
            self.tried("umount", "-l", str(disk))
        for node in self._nodes:
            self.tried("losetup", "-d", node)
        self._holder.kill()
        self._holder.wait()
        if self._holder.stdout:
            self._holder.stdout.close()


class Wire:
    """A network that machines are plugged into, and this one too: a bridge, and a cable to each."""

    def __init__(self) -> None:
        self._name = f"raft{os.getpid() % 10**6}"
        self._net = f"10.77.{os.getpid() % 254}"  # others may run these tests beside us
        self._cables: dict[str, str] = {}
        _ip("link", "add", self._name, "type", "bridge")
        _ip("address", "add", f"{self._net}.254/24", "dev", self._name)
        _ip("link", "set", self._name, "up")

    def plug_in(self, pid: int) -> str:
        """The network of a process. Returns its address."""
        count = len(self._cables) + 1
        here, there, address = f"{self._name}-{count}", f"{self._name}x{count}", f"{self._net}.{count}"
        _ip("link", "add", here, "type", "veth", "peer", "name", there, "netns", str(pid))
        _ip("link", "set", here, "master", self._name, "up")
        for words in (
            ["address", "add", f"{address}/24", "dev", there],
            ["link", "set", there, "up"],
            ["link", "set", "lo", "up"],
        ):
            subprocess.run(["nsenter", f"--net=/proc/{pid}/ns/net", "--", "ip", *words], check=True)
        self._cables[address] = here
        return address

    def cut(self, address: str) -> None:
        _ip("link", "set", self._cables[address], "down")

    def mend(self, address: str) -> None:
        _ip("link", "set", self._cables[address], "up")

    def end(self) -> None:
        for cable in self._cables.values():  # a network that is ending takes its time to let go of it
            subprocess.run(["ip", "link", "delete", cable], capture_output=True)
        _ip("link", "delete", self._name)


def _ip(*words: str) -> None:
    subprocess.run(["ip", *words], check=True)
