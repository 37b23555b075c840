"""What is mounted from servers, as it is offered for a store: what it is, and what copies there would prove."""

import tempfile
from pathlib import Path

from django.test import SimpleTestCase

from ruggedraft.core.machine.devices import DeviceTree
from ruggedraft.stores.volumes import Volume, medium_of, speaks_against, volumes


class FromServers(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        (self.root / "proc/self").mkdir(parents=True)

    def offered(self, kind: str, source: str, options: str) -> Volume:
        there = self.root / "array"
        there.mkdir()
        line = f"40 29 0:60 / {there} rw shared:7 - {kind} {source} {options}\n"
        (self.root / "proc/self/mountinfo").write_text(line)
        (volume,) = volumes(DeviceTree(self.root))
        return volume

    def test_a_share_is_offered_as_a_part_of_its_server(self):
        volume = self.offered("nfs4", "array:/work", "rw,vers=4.2,addr=192.0.2.7")
        self.assertEqual((volume.server, volume.unproven, medium_of(volume)), (True, "", "network"))
        told = speaks_against(
            Volume("/x", "nfs4", server=True, devices=frozenset({"server array", "server 192.0.2.7"}))
        )
        self.assertIn(
            "It lies on a server (192.0.2.7 or array): whatever lies on that server is one device with it.", told
        )

    def test_a_share_that_is_kept_on_this_computers_disk_proves_less_and_says_so(self):
        volume = self.offered("cifs", "//array/work", "rw,vers=3.1.1,fsc,addr=192.0.2.7")
        self.assertIn(
            "Copies there are written but never count as read back: it is mounted with a cache on this computer's disk"
            " (fsc).",
            speaks_against(volume),
        )

    def test_so_does_what_a_program_of_this_computer_serves(self):
        volume = self.offered("fuse.sshfs", "raft@array:/work", "rw,user_id=0")
        self.assertTrue(volume.server)
        self.assertIn(
            "a program of this computer serves it, and may keep what it read", " ".join(speaks_against(volume))
        )
