"""Real file systems on real block devices (loop devices), filled up, and shut down as if the power had gone.

Shutting down is the kernel's own (EXT4_IOC_SHUTDOWN, also XFS_IOC_GOINGDOWN: linux/ext4.h and xfs_fs.h, 'X' 125): with
the flag that forbids flushing the log, what was not made durable by then is lost, and every later call fails.
"""

import contextlib
import fcntl
import os
import random
import shutil
import struct
import subprocess
import tempfile
import threading
import time
from pathlib import Path
from unittest import TestCase, skipUnless

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.files.medium import cached_pages, drop_pages, resident_pages
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.local import PARTS
from ruggedraft.core.transfer import Memory, Target, TransferReport, transfer

XXH = algorithm_named("xxh128")
LONG = bool(os.environ.get("RAFT_LONG"))
_SHUTDOWN, _NO_LOG_FLUSH = 0x8004587D, struct.pack("I", 2)
SIZES = {"ext4": 48, "xfs": 320, "btrfs": 160}  # MiB; the last two have a least size
MAKE = {"ext4": ["mkfs.ext4", "-q", "-F"], "xfs": ["mkfs.xfs", "-q", "-f"], "btrfs": ["mkfs.btrfs", "-q", "-f"]}

_noise = random.Random(3)
FILES = {
    **{f"DCIM/{100 + n // 100}AAAAA/AAAA{n:04d}.JPG": _noise.randbytes(12_000) for n in range(300)},
    "CLIP/A.MOV": _noise.randbytes(3_000_001),
    "CLIP/B.MOV": _noise.randbytes(4_194_304),
    "zero": b"",
}


def _may_mount() -> bool:
    if os.geteuid() != 0 or not shutil.which("mkfs.ext4") or os.environ.get("RAFT_QUICK"):
        return False
    refused = contextlib.suppress(OSError, subprocess.CalledProcessError)
    with tempfile.TemporaryDirectory() as folder, refused, Disk(Path(folder), "ext4", 8):
        return True
    return False


class Disk:
    """A loop device with a file system on it, mounted while the block lasts."""

    def __init__(self, base: Path, kind: str, mebibytes: int) -> None:
        self.image, self.there, self.kind = base / f"{kind}.img", base / f"{kind} drive", kind
        self.there.mkdir()
        with self.image.open("wb") as file:
            file.truncate(mebibytes << 20)
        _run(*MAKE[kind], str(self.image))

    def __enter__(self) -> "Disk":
        self.mount()
        return self

    def __exit__(self, *_: object) -> None:
        self.unmount()

    def mount(self) -> None:
        _run("mount", "-o", "loop", str(self.image), str(self.there))

    def unmount(self) -> None:
        for _ in range(50):  # a thread of a run that was cut short may still be leaving
            if subprocess.run(["umount", str(self.there)], capture_output=True).returncode == 0:
                return
            time.sleep(0.1)
        _run("umount", "-l", str(self.there))

    def cut_the_power(self) -> None:
        """Everything not durable is lost, and every call from now on fails."""
        folder = os.open(self.there, os.O_RDONLY)
        try:
            fcntl.ioctl(folder, _SHUTDOWN, _NO_LOG_FLUSH)
        finally:
            os.close(folder)


def _run(*words: str) -> None:
    subprocess.run(words, check=True, capture_output=True)


@skipUnless(_may_mount(), "mounting loop devices needs root and a kernel that has them")
class OnDisks(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR"))
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        self.card = MemorySource(dict(FILES))
        self.memory: Memory | None = None

    def disk(self, kind: str) -> Disk:
        if not shutil.which(MAKE[kind][0]) or kind not in Path("/proc/filesystems").read_text():
            self.skipTest(f"no {kind} on this machine")
        return Disk(self.base, kind, SIZES[kind])

    def run_to(self, *stores) -> TransferReport:
        targets = [Target(store, "day/A001", self.memory) for store in stores]
        return transfer(self.card, list_card(self.card), targets, XXH)

    def not_whole(self, there: Path) -> list[str]:
        held = {path: there / "day/A001" / path for path in FILES}
        return [path for path, file in held.items() if file.exists() and file.read_bytes() != FILES[path]]

    def missing(self, there: Path) -> list[str]:
        return [path for path in FILES if not (there / "day/A001" / path).exists()]

    def test_copies_are_read_back_from_every_kind(self):
        for kind in MAKE:
            with self.subTest(kind), self.disk(kind) as disk:
                report = self.run_to(LocalStore(kind, disk.there))
                self.assertTrue(report.verified, report.stores[0].failed[:2])
                self.assertEqual(report.stores[0].level, Evidence.READ_BACK)
                self.assertEqual((self.not_whole(disk.there), self.missing(disk.there)), ([], []))

    def test_a_full_disk_stops_alone_and_completes_when_there_is_room(self):
        with self.disk("ext4") as disk:
            filler = disk.there / "something else"
            free = shutil.disk_usage(disk.there).free
            filler.write_bytes(bytes(free - 5_000_000))
            good = MemoryStore("good")
            report = self.run_to(LocalStore("small", disk.there), good)
            self.assertTrue(report.stores[1].verified)
            self.assertFalse(report.stores[0].verified)
            self.assertIn("'small' is full", str(report.stores[0].failed))
            self.assertEqual(self.not_whole(disk.there), [])
            filler.unlink()
            again = self.run_to(LocalStore("small", disk.there), good)
            self.assertTrue(again.verified, again.stores[0].failed[:2])
            self.assertEqual((self.missing(disk.there), (disk.there / PARTS).exists()), ([], False))

    def test_the_power_goes_at_any_moment(self):
        """Whole or absent after the log was replayed, and the next run completes, also where it believes the first."""
        for kind in ("ext4", "xfs"):
            for seed in range(25 if LONG else 4):
                with self.subTest(kind, seed=seed), self.disk(kind) as disk:
                    self.memory = Memory(b"a key", "then") if seed % 2 else None
                    cut = threading.Timer(random.Random(seed).uniform(0.0, 0.8), disk.cut_the_power)
                    cut.start()
                    report = self.run_to(LocalStore("disk", disk.there))
                    cut.join()
                    disk.unmount()
                    disk.mount()
                    self.assertEqual(self.not_whole(disk.there), [])
                    if report.verified:  # it was faster than the cut
                        self.assertEqual(self.missing(disk.there), [])
                    again = self.run_to(LocalStore("disk", disk.there))
                    self.assertTrue(again.verified, again.stores[0].failed[:2])
                    self.assertEqual((self.not_whole(disk.there), self.missing(disk.there)), ([], []))
                disk.image.unlink()
                disk.there.rmdir()

    def test_what_was_called_verified_is_there_after_the_power_went_at_once(self):
        for kind in ("ext4", "xfs"):
            for _ in range(10 if LONG else 2):
                with self.subTest(kind), self.disk(kind) as disk:
                    self.assertTrue(self.run_to(LocalStore("disk", disk.there)).verified)
                    disk.cut_the_power()
                    disk.unmount()
                    disk.mount()
                    self.assertEqual((self.not_whole(disk.there), self.missing(disk.there)), ([], []))
                disk.image.unlink()
                disk.there.rmdir()


@skipUnless(
    os.geteuid() == 0
    and shutil.which("mount.exfat-fuse")
    and shutil.which("mkfs.exfat")
    and Path("/dev/fuse").exists(),
    "no exFAT in user space on this machine",
)
class InUserSpace(TestCase):
    def test_what_a_process_of_this_machine_serves_is_not_called_read_back(self):
        """It reads the device through this machine's caches, where nobody can look."""
        with tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR")) as folder:
            image, there = Path(folder) / "exfat.img", Path(folder) / "drive"
            there.mkdir()
            with image.open("wb") as file:
                file.truncate(32 << 20)
            _run("mkfs.exfat", str(image))
            device = subprocess.run(["losetup", "-f", "--show", str(image)], check=True, capture_output=True, text=True)
            try:
                _run("mount.exfat-fuse", device.stdout.strip(), str(there))
                try:
                    card = MemorySource(dict(FILES))
                    targets = [Target(LocalStore("exfat", there), "day/A001")]
                    (result,) = transfer(card, list_card(card), targets, XXH).stores
                    self.assertEqual((len(result.agreed), result.failed), (len(FILES), []))
                    self.assertEqual((result.level, result.verified), (Evidence.WRITTEN, False))
                finally:
                    _run("umount", str(there))
            finally:
                _run("losetup", "-d", device.stdout.strip())


@skipUnless(
    os.geteuid() == 0 and "overlay" in Path("/proc/filesystems").read_text(), "no overlay mounts on this machine"
)
class OnAnother(TestCase):
    def test_a_file_system_that_lies_on_another_is_read_from_the_medium_too(self):
        """Its pages are the other one's, and cachestat says that there are none: a file that was never synced would
        be read from memory and taken for read back."""
        with tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR")) as folder:
            for name in ("lower", "upper", "work", "there"):
                (Path(folder) / name).mkdir()
            layers = f"lowerdir={folder}/lower,upperdir={folder}/upper,workdir={folder}/work"
            there = Path(folder) / "there"
            _run("mount", "-t", "overlay", "overlay", "-o", layers, str(there))
            try:
                (there / "fresh").write_bytes(b"x" * 300_000)
                descriptor = os.open(there / "fresh", os.O_RDONLY)
                self.assertGreater(cached_pages(descriptor, 300_000), 0)
                self.assertTrue(drop_pages(descriptor, 300_000))
                self.assertEqual(resident_pages(descriptor, 300_000), 0)
                os.close(descriptor)
                card = MemorySource(dict(FILES))
                report = transfer(card, list_card(card), [Target(LocalStore("over", there), "day/A001")], XXH)
                self.assertTrue(report.verified, report.stores[0].failed[:2])
            finally:
                _run("umount", str(there))
