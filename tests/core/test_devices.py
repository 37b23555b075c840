"""What lies under a folder: on trees as sysfs, mountinfo and udev write them."""

import tempfile
from pathlib import Path
from unittest import TestCase

from ruggedraft.core.machine.devices import UNKNOWN, DeviceTree


class Trees(TestCase):
    """Layouts that every Linux writes; names and numbers are invented."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        for made in ("proc/self", "sys/dev/block", "sys/class/block", "sys/fs/btrfs", "dev", "run/udev/data"):
            (self.root / made).mkdir(parents=True)
        self.lines: list[str] = []

    def block(
        self, name: str, number: str, *, serial: str = "", of: str = "", slaves: tuple[str, ...] = (), file: str = ""
    ):
        """of: the disk that this is a partition of. slaves: what it is made of. file: that passes for this device"""
        home = self.root / "sys/devices" / (f"{of}/{name}" if of else name)
        home.mkdir(parents=True)
        (home / "dev").write_text(number + "\n")
        if of:
            (home / "partition").write_text("1\n")
        if serial:
            (home / "serial").write_text(serial + "\n")
        if slaves:
            (home / "slaves").mkdir()
            for slave in slaves:
                (home / "slaves" / slave).symlink_to((self.root / "sys/class/block" / slave).resolve())
        if file:
            (home / "loop").mkdir()
            (home / "loop" / "backing_file").write_text(file + "\n")
        for link in (f"sys/dev/block/{number}", f"sys/class/block/{name}"):
            (self.root / link).symlink_to(home)
        (self.root / "dev" / name).touch()

    def mount(self, folder: str, device: str, kind: str, source: str, options: str = "rw") -> Path:
        there = self.root / "mnt" / folder
        there.mkdir(parents=True, exist_ok=True)
        self.lines.append(f"{len(self.lines) + 30} 1 {device} / {there} rw - {kind} {source} {options}\n")
        (self.root / "proc/self/mountinfo").write_text("".join(self.lines))
        return there

    def under(self, folder: Path) -> set[str]:
        return set(DeviceTree(self.root).under(folder))

    def test_every_layer_leads_down_to_the_disks(self):
        for n in (1, 2, 3):
            self.block(f"sd{n}", f"8:{n}0", serial=f"S{n}")
            self.block(f"sd{n}p", f"8:{n}1", of=f"sd{n}")
        self.block("dm-0", "253:0", slaves=("sd1p",))
        self.block("md0", "9:0", slaves=("sd1", "sd2"))
        self.block("dm-1", "253:1", slaves=("dm-0", "sd3"))
        for words, folder, expected in (
            ("a partition", self.mount("a", "8:11", "ext4", "/dev/sd1p"), {"disk S1"}),
            ("a whole disk", self.mount("b", "8:20", "exfat", "/dev/sd2"), {"disk S2"}),
            ("encrypted", self.mount("c", "253:0", "ext4", "/dev/mapper/x"), {"disk S1"}),
            ("RAID", self.mount("d", "9:0", "xfs", "/dev/md0"), {"disk S1", "disk S2"}),
            (
                "a volume over an encrypted one",
                self.mount("e", "253:1", "ext4", "/dev/mapper/y"),
                {"disk S1", "disk S3"},
            ),
        ):
            with self.subTest(words):
                self.assertEqual(self.under(folder), expected)

    def test_all_members_of_a_btrfs_and_subvolumes_of_one_are_the_same(self):
        for n in (1, 2):
            self.block(f"sd{n}", f"8:{n}0", serial=f"S{n}")
        devices = self.root / "sys/fs/btrfs/uuid/devices"
        devices.mkdir(parents=True)
        for name in ("sd1", "sd2"):
            (devices / name).touch()
        one = self.mount("one", "0:41", "btrfs", "/dev/sd1", "rw,subvol=/one")
        two = self.mount("two", "0:42", "btrfs", "/dev/sd1", "rw,subvol=/two")
        self.assertEqual((self.under(one), self.under(two)), ({"disk S1", "disk S2"},) * 2)

    def test_files_that_pass_for_devices_and_overlays_lie_on_what_holds_them(self):
        self.block("sd1", "8:10", serial="S1")
        self.block("sd2", "8:20", serial="S2")
        base = self.mount("base", "8:10", "ext4", "/dev/sd1")
        self.block("loop3", "7:3", file=f"{base}/image")
        self.block("loop4", "7:4", file="/gone/image (deleted)")
        self.assertEqual(self.under(self.mount("l", "7:3", "ext4", "/dev/loop3")), {"disk S1"})
        self.assertEqual(self.under(self.mount("m", "7:4", "ext4", "/dev/loop4")), {UNKNOWN})
        low = self.mount("low", "8:20", "ext4", "/dev/sd2")
        over = self.mount(
            "over", "0:50", "overlay", "overlay", f"rw,lowerdir={low},upperdir={base}/up,workdir={base}/w"
        )
        self.assertEqual(self.under(over), {"disk S1", "disk S2"})

    def test_mounts_from_one_server_are_one_device_by_any_of_its_names(self):
        nas = self.mount("nas", "0:60", "nfs4", "Nas.Local:/export/a", "rw,addr=10.0.0.7")
        other = self.mount("other", "0:61", "cifs", "//10.0.0.7/share", "rw,addr=10.0.0.7")
        third = self.mount("third", "0:62", "nfs", "store:/x", "rw,addr=10.0.0.8")
        self.assertEqual(self.under(nas), {"server nas.local", "server 10.0.0.7"})
        self.assertTrue(self.under(nas) & self.under(other))
        self.assertFalse(self.under(nas) & self.under(third))

    def test_a_disk_without_a_serial_is_known_by_what_comes_back_with_it_and_never_by_a_number_of_the_kernel(self):
        for name, number in (("sdx", "8:90"), ("sdy", "8:96")):  # the same disk, plugged in twice
            self.block(name, number, serial="0000000000")
            (self.root / "run/udev/data" / f"b{number}").write_text("E:ID_PART_TABLE_UUID=5f3a-01\n")
        first = self.mount("x", "8:90", "ext4", "/dev/sdx")
        again = self.mount("y", "8:96", "ext4", "/dev/sdy")
        self.assertEqual(self.under(first), {"disk 5f3a-01"})
        self.assertEqual(self.under(again), {"disk 5f3a-01"})

    def test_what_the_machine_cannot_tell_is_one_device(self):
        self.block("sdz", "8:99")
        for words, folder in (
            ("nothing to know it by", self.mount("z", "8:99", "ext4", "/dev/sdz")),
            ("a file system of its own kind", self.mount("f", "0:70", "fuse.thing", "thing")),
            ("a pool", self.mount("p", "0:71", "zfs", "tank/x")),
            ("a device that is not there", self.mount("g", "8:77", "ext4", "/dev/gone")),
        ):
            with self.subTest(words):
                self.assertEqual(self.under(folder), {UNKNOWN})
