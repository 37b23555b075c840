import ctypes
import errno
import mmap
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase, skipIf
from unittest.mock import patch

from ruggedraft.core.errors import Conflict, StoreError, StoreFull, StoreVanished
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.files import medium
from ruggedraft.core.files.medium import LARGE, cached_pages, drop_pages, resident_pages
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests import keep_list
from ruggedraft.core.stores import LocalStore, MemoryStore, write_one
from ruggedraft.core.stores.local import PARTS, reading_small
from ruggedraft.core.stores.local import parts as parts_module
from ruggedraft.core.stores.port import ToRead

from .store_contract import StoreContract, T


class Memory(StoreContract, TestCase):
    def make_store(self):
        return MemoryStore()

    def content_of(self, path):
        held = self.store.files.get(path)
        return held[0] if held else None


class Local(StoreContract, TestCase):
    def make_store(self):
        folder = tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR"))
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
        """The kernel's own accounts: no page of the file in its cache (cachestat(2), mincore(2)) when the reading
        begins, and as many bytes fetched from storage by this process as the file has (proc(5), io: read_bytes)."""
        for size, module in ((3_000_001, medium), (300_001, reading_small)):
            with self.subTest(size):
                path = self.folder / f"roll/{size}"
                self.put(f"roll/{size}", os.urandom(size))
                path.read_bytes()
                descriptor = os.open(path, os.O_RDONLY)
                self.addCleanup(os.close, descriptor)
                self.assertGreater(cached_pages(descriptor, size), 0)
                self.assertEqual(cached_pages(descriptor, size), resident_pages(descriptor, size))
                seen = []

                def dropped(*words, descriptor=descriptor, size=size, seen=seen):
                    answer = drop_pages(*words)
                    seen.append((answer, cached_pages(descriptor, size), resident_pages(descriptor, size)))
                    return answer

                before = fetched()
                with patch.object(module, "drop_pages", dropped):
                    level = self.read(f"roll/{size}", size)
                self.assertEqual((level, seen), (Evidence.READ_BACK, [(True, 0, 0)]))
                self.assertGreaterEqual(fetched() - before, size)

    def read(self, path: str, size: int) -> Evidence:
        if size >= LARGE:
            return self.store.read_back(path, lambda data: None)
        return self.store.read_back_small([ToRead(path, size)], lambda index, data: None)[0]

    def test_of_a_file_that_grew_more_is_read_than_the_system_has_at_hand(self):
        """preadv2(2) with RWF_NOWAIT gives what is in memory, which may end where the file once did."""
        self.put("roll/grown", content := bytes(range(256)) * 64)

        def first_page(descriptor, view, offset):
            return os.preadv(descriptor, [view[:4096]], offset)

        held = []
        with patch.object(reading_small, "read_now", first_page):
            self.store.read_back_small([ToRead("roll/grown", 4096)], lambda n, data: held.append(bytes(data)))
        self.assertEqual(held, [content])

    def test_where_pages_stay_in_memory_the_evidence_is_weaker(self):
        """A file that somebody has mapped and locked cannot be dropped: the kernel says so, and so do we."""
        self.put("roll/big", os.urandom(50_000))
        with (self.folder / "roll/big").open("r+b") as file, mmap.mmap(file.fileno(), 0) as held:
            libc = ctypes.CDLL(None, use_errno=True)
            address = ctypes.addressof(ctypes.c_char.from_buffer(held))
            if libc.mlock(ctypes.c_void_p(address), ctypes.c_size_t(50_000)):
                self.skipTest("this system locks no memory")
            for reading in (self.store.read_back("roll/big", lambda data: None), self.read("roll/big", 50_000)):
                self.assertEqual(reading, Evidence.WRITTEN)

    def test_a_folder_in_memory_is_no_medium(self):
        if not Path("/dev/shm").is_mount():
            self.skipTest("there is no file system in memory here")
        with tempfile.TemporaryDirectory(dir="/dev/shm") as folder:
            store = LocalStore("memory", Path(folder))
            store.open()
            for size in (50_000, 3_000_000):
                write_one(store, f"roll/{size}", bytes(size), T)
                self.assertEqual(store.read_back(f"roll/{size}", lambda data: None), Evidence.WRITTEN)
            store.close()

    def test_buffered_reading_after_dropping_pages_counts_too(self):
        self.put("roll/big", content := os.urandom(2_500_000))
        held = bytearray()
        with patch("ruggedraft.core.files.medium.set_direct", return_value=False):
            self.assertEqual(self.store.read_back("roll/big", held.extend), Evidence.READ_BACK)
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
        kept.end(T)
        self.assertEqual(live.commit([kept]), [None])
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
            pending.end(T)
            self.assertIsInstance(self.store.commit([pending])[0], StoreVanished)
            with self.assertRaises(StoreVanished):
                self.store.found("roll/a")
            self.assertEqual(os.listdir(self.folder), [])
        finally:
            self.folder.rmdir()
            moved.rename(self.folder)

    def test_every_way_of_naming_a_file_refuses_a_taken_name(self):
        no_such_call = OSError(errno.EINVAL, "no renameat2 here")
        for way in ("link", "look"):
            with (
                self.subTest(way),
                patch.object(parts_module, "rename_to_free_name", side_effect=no_such_call),
                patch.object(os, "link", **({"wraps": os.link} if way == "link" else {"side_effect": _NO_LINKS})),
            ):
                self.put(f"{way}/a", b"first")
                with self.assertRaises(Conflict):
                    self.put(f"{way}/a", b"second")
                self.assertEqual(self.content_of(f"{way}/a"), b"first")

    def test_a_sealed_file_is_read_only_and_can_be_opened_up_again(self):
        self.put("roll/a", b"sealed")
        self.store.seal("roll/a")
        file = self.folder / "roll/a"
        try:
            self.assertEqual(file.stat().st_mode & 0o222, 0)
            if os.geteuid() == 0:
                with self.assertRaises(PermissionError):
                    file.write_bytes(b"other")
                with self.assertRaises(PermissionError):
                    file.unlink()
            self.assertEqual(self.store.read_back("roll/a", lambda data: None), Evidence.READ_BACK)
        finally:
            self.store.unseal("roll/a")
        file.unlink()


_NO_LINKS = PermissionError(errno.EPERM, "no links here")


def fetched() -> int:
    """Bytes that this process had the kernel fetch from storage: proc(5), io."""
    words = Path("/proc/self/io").read_text().split()
    return int(words[words.index("read_bytes:") + 1])


class KeepingLists(TestCase):
    """Checksum lists beside a copy: named for what they are, merged, never contradicted."""

    def keep(self, store: MemoryStore, sums: dict[str, str], *, complete: bool = True) -> str:
        return keep_list(store, "day/A001", sums, algorithm_named("md5"), modified_ns=T, complete=complete).path

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
