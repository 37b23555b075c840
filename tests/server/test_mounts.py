"""Real readers: the mount table of a machine, as the kernel and udev write it, here beneath a folder."""

import tempfile
from pathlib import Path
from unittest.mock import patch

from django.test import SimpleTestCase

from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.machine.mount_table import read_mounts
from ruggedraft.core.sources import list_card
from ruggedraft.intake.mounts import MountTable

_DOCUMENTED = rb"36 35 98:0 /mnt1 /mnt2 rw,noatime master:1 - ext3 /dev/root rw,errors=continue" + b"\n"
"""The example line of proc(5), 'mountinfo'."""


class Mounts(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        for made in ("proc/self", "run/udev/data", "sys/dev/block", "media"):
            (self.root / made).mkdir(parents=True)
        self.lines: list[str] = []

    def disk(self, name: str, number: str, *, removable: bool, sectors: int = 1000, part: bool = True, **told: str):
        """A disk in sysfs, with one partition or without, and what udev keeps of it."""
        disk = self.root / "sys/devices" / name
        block = disk / f"{name}1" if part else disk
        block.mkdir(parents=True)
        if part:
            (block / "partition").write_text("1\n")
        (disk / "removable").write_text(f"{int(removable)}\n")
        (block / "size").write_text(f"{sectors}\n")
        (block / "dev").write_text(f"{number}\n")
        (self.root / "sys/dev/block" / number).symlink_to(block)
        words = "".join(f"E:{key}={value}\n" for key, value in told.items())
        (self.root / "run/udev/data" / f"b{number}").write_text("S:disk/by-id/x\n" + words)

    def mount(self, number: str, path: str, kind: str = "vfat", mount_number: int = 40) -> Path:
        """`path` is where it is mounted beneath the root of this test."""
        there = self.root / path
        there.mkdir(parents=True, exist_ok=True)
        written = str(there).replace("\\", "\\134").replace(" ", "\\040").replace("\n", "\\012")
        self.lines.append(f"{mount_number} 29 {number} / {written} rw,nosuid shared:7 - {kind} /dev/x rw\n")
        (self.root / "proc/self/mountinfo").write_text("".join(self.lines))
        return there

    def slots(self):
        return list(MountTable(self.root).slots())

    def test_the_documented_line_and_broken_ones(self):
        (mount,) = read_mounts(_DOCUMENTED + b"\n36 35\nno dash at all here\n- \n")
        self.assertEqual((mount.device, mount.path, mount.file_system), ("98:0", "/mnt2", "ext3"))

    def test_a_removable_file_system_is_a_card_in_a_slot(self):
        self.disk(
            "sdc", "8:33", removable=True, sectors=62_333_952, ID_FS_UUID="3B61-C2A0", ID_FS_LABEL_ENC=r"A\x2001",
            ID_MODEL="Twin_Reader", ID_PATH="pci-0000:00:14.0-usb-0:2:1.0-scsi-0:0:0:1-part1", ID_DRIVE_FLASH_SD="1",
        )  # fmt: skip
        there = self.mount("8:33", "media/A 01")
        (slot,) = self.slots()
        self.assertEqual((slot.name, slot.path), ("Twin Reader 2", str(there)))
        seen = slot.card
        self.assertEqual((seen.serial, seen.volume, seen.kind), ("3B61-C2A0", "A 01", "SD"))
        self.assertEqual((seen.capacity, seen.largest_file), (62_333_952 * 512, 2**32 - 1))

    def test_a_reader_that_lets_a_card_go_stays_for_the_next_one(self):
        """Switching off a reader of several slots would leave it dead until it is plugged in anew."""
        self.disk("sdc", "8:33", removable=True)
        self.disk("sdd", "8:49", removable=False)
        cards = {self.mount("8:33", "media/card"): "sdc", self.mount("8:49", "media/magazine"): "sdd"}
        for there, disk in cards.items():
            switch = self.root / f"sys/devices/{disk}/device/delete"
            switch.parent.mkdir()
            switch.write_text("")
            with patch("ruggedraft.intake.mounts._said_by", return_value=""):
                self.assertEqual(MountTable(self.root).release(str(there)), "")
        self.assertEqual((self.root / "sys/devices/sdc/device/delete").read_text(), "")
        self.assertEqual((self.root / "sys/devices/sdd/device/delete").read_text(), "1")

    def test_a_medium_that_is_in_use_is_not_let_go_of(self):
        self.disk("sdd", "8:49", removable=False)
        there = self.mount("8:49", "media/magazine")
        switch = self.root / "sys/devices/sdd/device/delete"
        switch.parent.mkdir()
        switch.write_text("")
        with patch("ruggedraft.intake.mounts._said_by", return_value="target is busy"):
            self.assertEqual(MountTable(self.root).release(str(there)), "target is busy")
        self.assertEqual(switch.read_text(), "")

    def test_fixed_disks_network_mounts_and_our_own_drives_are_no_cards(self):
        self.disk("sda", "8:1", removable=False)
        self.mount("8:1", "media/fixed", "ext4")
        self.disk("sdd", "8:49", removable=True)
        (self.mount("8:49", "media/drive", "exfat") / ".raft-store").touch()
        self.mount("0:50", "media/share", "nfs4")
        self.mount("0:51", "media/memory", "tmpfs")
        self.assertEqual(self.slots(), [])

    def test_a_built_in_slot_counts_though_the_kernel_calls_it_fixed_and_a_disk_may_have_no_partitions(self):
        self.disk("mmcblk0", "179:1", removable=False)
        self.mount("179:1", "media/built in", "exfat")
        self.disk("sde", "8:64", removable=True, part=False)
        self.mount("8:64", "media/whole", "exfat")
        self.assertEqual([slot.card.largest_file for slot in self.slots()], [None, None])

    def partition(self, disk: str, name: str, number: str, **told: str) -> None:
        """One more partition of a disk, as sysfs and udev show it."""
        block = self.root / "sys/devices" / disk / name
        block.mkdir()
        (block / "partition").write_text("2\n")
        (block / "dev").write_text(f"{number}\n")
        (self.root / "sys/dev/block" / number).symlink_to(block)
        if told:
            words = "".join(f"E:{key}={value}\n" for key, value in told.items())
            (self.root / "run/udev/data" / f"b{number}").write_text(words)

    def test_of_a_card_with_two_partitions_neither_speaks_for_the_other(self):
        """Mounted or not, known to udev or not: what lies there is not known, and an empty twin must not hide it."""
        for n, (words, mounted, told) in enumerate((
            ("both mounted", True, {"ID_FS_TYPE": "vfat"}),
            ("the other is not mounted", False, {"ID_FS_TYPE": "ext4"}),
            ("the other holds nothing that the machine can read", False, {"ID_PART_ENTRY_TYPE": "0x83"}),
            ("the machine knows nothing of it", False, {}),
        )):  # fmt: skip
            with self.subTest(words):
                self.lines.clear()
                self.disk(f"sd{n}", f"8:{n}1", removable=True, ID_FS_UUID="3B61-C2A0")
                self.partition(f"sd{n}", f"sd{n}2", f"8:{n}2", **told)
                self.mount(f"8:{n}1", f"media/{n}1")
                if mounted:
                    self.mount(f"8:{n}2", f"media/{n}2")
                (slot,) = self.slots()
                self.assertIn(f"more than one partition (sd{n}1, sd{n}2)", slot.card.trouble)

    def test_partitions_that_come_with_a_format_made_on_a_computer_are_left_out(self):
        """Types from the UEFI Specification 2.10 (5.3.3); Microsoft's from memory."""
        self.disk("sdc", "8:33", removable=True)
        self.partition("sdc", "sdc2", "8:34", ID_PART_ENTRY_TYPE="C12A7328-F81F-11D2-BA4B-00A0C93EC93B")
        self.partition("sdc", "sdc3", "8:35", ID_PART_ENTRY_TYPE="0xef", ID_FS_TYPE="vfat")
        self.partition("sdc", "sdc4", "8:36", ID_PART_ENTRY_TYPE="e3c9e316-0b5c-4db8-817d-f92df00215ae")
        self.mount("8:33", "media/one")
        self.assertEqual([slot.card.trouble for slot in self.slots()], [""])

    def test_a_second_partition_that_turns_up_is_another_stay(self):
        self.disk("sdc", "8:33", removable=True)
        self.mount("8:33", "media/one")
        (before,) = self.slots()
        self.partition("sdc", "sdc2", "8:34")
        (after,) = self.slots()
        self.assertNotEqual(before.card.token, after.card.token)

    def test_a_drive_of_ours_is_no_card_whichever_of_its_partitions_has_the_store(self):
        self.disk("sdd", "8:49", removable=True)
        self.partition("sdd", "sdd2", "8:50")
        self.mount("8:49", "media/other")
        (self.mount("8:50", "media/drive", "exfat") / ".raft-store").touch()
        self.assertEqual(self.slots(), [])

    def test_a_folder_of_a_card_mounted_somewhere_is_not_the_card(self):
        self.disk("sdc", "8:33", removable=True)
        self.mount("8:33", "media/part")
        self.lines = [line.replace(" / ", " /DCIM ", 1) for line in self.lines]
        there = self.mount("8:33", "media/whole", mount_number=41)
        self.assertEqual([slot.path for slot in self.slots()], [str(there)])

    def test_one_card_mounted_twice_is_one_card(self):
        self.disk("sdc", "8:33", removable=True)
        self.mount("8:33", "media/one", mount_number=40)
        self.mount("8:33", "media/two", mount_number=41)
        self.assertEqual(len(self.slots()), 1)

    def test_another_insertion_has_another_token_and_changes_the_pulse(self):
        self.disk("sdc", "8:33", removable=True, ID_FS_UUID="3B61-C2A0")
        self.mount("8:33", "media/one", mount_number=40)
        table = MountTable(self.root)
        before, pulse = self.slots()[0].card.token, table.pulse()
        self.lines.clear()
        self.mount("8:33", "media/one", mount_number=52)
        self.assertNotEqual((self.slots()[0].card.token, table.pulse()), (before, pulse))

    def test_its_files_are_read_and_a_card_that_left_is_gone(self):
        self.disk("sdc", "8:33", removable=True)
        there = self.mount("8:33", "media/one")
        (there / "DCIM").mkdir()
        (there / "DCIM/a.JPG").write_bytes(b"x")
        source = MountTable(self.root).open(str(there), 0)
        self.assertEqual([entry.path for entry in list_card(source).files], ["DCIM/a.JPG"])
        there.rename(self.root / "media/elsewhere")
        with self.assertRaises(SourceVanished):
            list_card(MountTable(self.root).open(str(there), 0))

    def test_a_machine_without_any_of_it_has_no_slots(self):
        self.assertEqual(list(MountTable(self.root / "nothing").slots()), [])

    def test_this_machines_own_table_can_be_read(self):
        self.assertTrue(list(read_mounts(MountTable().pulse())))
        list(MountTable().slots())

    def test_two_readers_of_one_model_are_told_apart_by_the_port_they_hang_on(self):
        for n, port in ((1, "0:1"), (2, "0:2")):
            path = f"pci-0000:00:14.0-usb-{port}:1.0-scsi-0:0:0:0-part1"
            self.disk(f"sd{n}", f"8:{n}1", removable=True, ID_MODEL="Reader", ID_PATH=path)
            self.mount(f"8:{n}1", f"media/{n}", mount_number=40 + n)
        one, two = self.slots()
        self.assertNotEqual(one.port, two.port)
        self.assertEqual((one.name, two.name), ("Reader 1 at port 0:1", "Reader 1 at port 0:2"))

    def test_without_udev_the_port_is_the_plug_and_not_what_the_kernel_numbers_anew(self):
        for host, number in (("host6", "8:33"), ("host9", "8:49")):  # one reader, plugged into one port twice
            name = f"pci0000:00/usb1/1-2/1-2:1.0/{host}/target6:0:0/6:0:0:1/block/sd{number[-1]}"
            self.disk(name, number, removable=True, part=False)
            self.mount(number, f"media/{host}")
        first, again = self.slots()
        self.assertEqual(first.port, again.port)
        self.assertTrue(first.port.endswith("slot 1"), first.port)
