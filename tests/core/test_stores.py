import os
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase, skipIf
from unittest.mock import patch

from ruggedraft.core.errors import Conflict, StoreError, StoreFull, StoreVanished
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests import keep_list
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores import local as local_module
from ruggedraft.core.stores.local import PARTS
from ruggedraft.core.stores.medium import read_past_caches, resident_pages

from .store_contract import StoreContract, T


class Memory(StoreContract, TestCase):
    def make_store(self):
        return MemoryStore()

    def content_of(self, path):
        held = self.store.files.get(path)
        return held[0] if held else None


class Local(StoreContract, TestCase):
    def make_store(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        return LocalStore("drive", self.folder)

    def content_of(self, path):
        file = self.folder / path
        return file.read_bytes() if file.exists() else None

    def test_times_are_kept_to_the_nanosecond(self):
        self.put("roll/a", b"x")
        self.assertEqual((self.folder / "roll/a").stat().st_mtime_ns, T)

    def test_read_back_does_not_come_from_this_machines_memory(self):
        """The kernel's own account: after a file was read back, none of its pages is in the page cache."""
        self.put("roll/big", os.urandom(3_000_001))
        (self.folder / "roll/big").read_bytes()
        descriptor = os.open(self.folder / "roll/big", os.O_RDONLY)
        self.addCleanup(os.close, descriptor)
        self.assertGreater(resident_pages(descriptor, 3_000_001), 0)
        self.assertEqual(self.store.read_back("roll/big", lambda data: None), Evidence.READ_BACK)
        self.assertEqual(resident_pages(descriptor, 3_000_001), 0)

    def test_where_caches_cannot_be_passed_the_evidence_is_weaker(self):
        self.put("roll/big", os.urandom(50_000))
        with (
            patch("ruggedraft.core.stores.medium._set_direct", return_value=False),
            patch("ruggedraft.core.stores.medium.resident_pages", return_value=1),
        ):
            self.assertEqual(self.store.read_back("roll/big", lambda data: None), Evidence.WRITTEN)

    def test_buffered_reading_after_dropping_pages_counts_too(self):
        self.put("roll/big", content := os.urandom(2_500_000))
        held = bytearray()
        descriptor = os.open(self.folder / "roll/big", os.O_RDONLY)
        self.addCleanup(os.close, descriptor)
        with patch("ruggedraft.core.stores.medium._set_direct", return_value=False):
            self.assertEqual(read_past_caches(descriptor, held.extend), Evidence.READ_BACK)
        self.assertEqual(bytes(held), content)

    def test_nothing_of_ours_is_left_beside_the_copies(self):
        self.put("roll/a", b"x")
        self.store.close()
        self.assertEqual(sorted(os.listdir(self.folder)), ["roll"])

    def test_leftovers_of_a_dead_run_are_cleared_and_those_of_a_live_one_are_not(self):
        live = LocalStore("other", self.folder)
        live.open()
        kept = live.write("roll/live")
        dead = self.folder / PARTS / "dead"
        dead.mkdir()
        (dead / "1").write_bytes(b"half a file")
        third = LocalStore("third", self.folder)
        third.open()
        self.assertFalse(dead.exists())
        kept.write(b"whole")
        kept.commit(T)
        self.assertEqual(self.content_of("roll/live"), b"whole")
        third.close()
        live.close()

    def test_a_link_in_the_way_is_not_followed(self):
        outside = tempfile.TemporaryDirectory()
        self.addCleanup(outside.cleanup)
        (self.folder / "roll").symlink_to(outside.name)
        with self.assertRaises(Exception) as raised:
            self.put("roll/a", b"x")
        self.assertIn("drive", str(raised.exception))
        self.assertEqual(os.listdir(outside.name), [])

    def test_another_folder_at_the_same_path_is_not_this_store(self):
        """What an unmounted drive leaves behind is an empty folder of the system disk."""
        pending = self.store.write("roll/a")
        pending.write(b"x")
        moved = self.folder.with_name(self.folder.name + "-moved")
        self.folder.rename(moved)
        self.folder.mkdir()
        try:
            with self.assertRaises(StoreVanished):
                pending.commit(T)
            with self.assertRaises(StoreVanished):
                self.store.found("roll/a")
            self.assertEqual(os.listdir(self.folder), [])
        finally:
            self.folder.rmdir()
            moved.rename(self.folder)

    def test_every_way_of_naming_a_file_refuses_a_taken_name(self):
        for way in ("link", "look"):
            with self.subTest(way), patch.object(local_module.ctypes, "CDLL") as libc:
                libc.return_value.renameat2.return_value = -1
                with patch.object(local_module.ctypes, "get_errno", return_value=22):
                    refusal = PermissionError(1, "no links here") if way == "look" else None
                    with patch.object(os, "link", side_effect=refusal, wraps=None if refusal else os.link):
                        self.put(f"{way}/a", b"first")
                        with self.assertRaises(local_module.Conflict):
                            self.put(f"{way}/a", b"second")
                self.assertEqual(self.content_of(f"{way}/a"), b"first")


class KeepingLists(TestCase):
    """Checksum lists beside a copy: named for what they are, merged, never contradicted."""

    def keep(self, store: MemoryStore, sums: dict[str, str], *, complete: bool = True) -> str:
        return keep_list(store, "day/A001", sums, algorithm_named("md5"), modified_ns=T, complete=complete)

    def test_an_unfinished_copy_has_an_unfinished_list_which_the_finished_one_replaces(self):
        store = MemoryStore()
        self.assertEqual(self.keep(store, {"a": "1" * 32}, complete=False), "day/A001.md5.incomplete")
        self.assertEqual(self.keep(store, {"a": "1" * 32, "b": "2" * 32}), "day/A001.md5")
        self.assertEqual(list(store.files), ["day/A001.md5"])
        self.assertEqual(store.files["day/A001.md5"][0], b"1" * 32 + b"  A001/a\n" + b"2" * 32 + b"  A001/b\n")

    def test_entries_of_an_earlier_list_stay(self):
        store = MemoryStore()
        self.keep(store, {"a": "1" * 32})
        self.keep(store, {"b": "2" * 32})
        self.assertEqual(store.files["day/A001.md5"][0].count(b"\n"), 2)

    def test_a_contradiction_or_a_file_that_is_no_list_is_left_alone(self):
        for there in (b"1" * 32 + b"  A001/a\n", b"holiday photographs"):
            store = MemoryStore(files={"day/A001.md5": (there, 0)})
            with self.assertRaisesRegex(Conflict, "left as it is|left as it was"):
                self.keep(store, {"a": "2" * 32})
            self.assertEqual(store.files["day/A001.md5"][0], there)

    def test_a_list_that_comes_back_different_is_an_error(self):
        store = MemoryStore(decay=lambda path, content: content[:-1])
        with self.assertRaisesRegex(StoreError, "gave back other bytes"):
            self.keep(store, {"a": "1" * 32})


def _may_mount() -> bool:
    if os.geteuid() != 0 or sys.platform != "linux":
        return False
    with tempfile.TemporaryDirectory() as folder:
        mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=64k", "none", folder], capture_output=True)
        if mounted.returncode == 0:
            subprocess.run(["umount", folder], check=True)
        return mounted.returncode == 0


class ReallyFull(TestCase):
    @skipIf(not _may_mount(), "mounting a small file system needs root")
    def test_a_full_file_system_is_a_full_store_and_keeps_nothing_half(self):
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run(["mount", "-t", "tmpfs", "-o", "size=1m", "none", folder], check=True)
            try:
                store = LocalStore("small", Path(folder))
                store.open()
                pending = store.write("roll/a")
                with self.assertRaisesRegex(StoreFull, "'small' is full"):
                    for _ in range(20):
                        pending.write(bytes(100_000))
                pending.discard()
                self.assertGreater(store.room().free, 900_000)
                store.close()
            finally:
                subprocess.run(["umount", folder], check=True)
