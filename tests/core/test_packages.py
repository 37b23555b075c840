"""A whole roll in one sealed file: written, opened by others' programs, read again, never changed."""

import os
import random
import shutil
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

from ruggedraft.commands.verify import main as verify
from ruggedraft.core.errors import (
    FileMissing,
    FileRefused,
    SourceUnreadable,
)
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.packages import PackageSource, verify_package
from ruggedraft.core.packages.reading import Package
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import Target, transfer

from .packed import XXH128, Folder, store_at
from .store_contract import StoreContract, T

NAMES = (
    b"DCIM/100AAAAA/AAAA0001.JPG", "CLIP/späť.mov".encode(), b"caf\xe9.MOV", b"back\\slash", b"new\nline", b"-rf",
    b"x" * 250, b"Clip.mov", b"clip.mov", b"empty", "クリップ/一.wav".encode(), b"a b/*?.txt", b"A012/A012.xxh128",
)  # fmt: skip


class Contract(StoreContract, TestCase):
    """What every store must do, of files in the package that is being written, and of files beside it."""

    def make_store(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        return store_at(self.folder)

    def setUp(self):
        super().setUp()
        self.store.begin("roll")

    def content_of(self, path: str) -> bytes | None:
        if not path.startswith("roll/"):
            there = self.folder / path
            return there.read_bytes() if there.is_file() else None
        made = self.folder / "roll.tar.unfinished"
        names = subprocess.run(["tar", "-tf", made], capture_output=True, text=True).stdout.splitlines()
        if path not in names:
            return None
        return subprocess.run(["tar", "-xOf", made, path], capture_output=True).stdout


class OpenedByOthers(Folder):
    """GNU tar, bsdtar (of libarchive), xxhsum and Python's tarfile know nothing of us."""

    def setUp(self):
        super().setUp()
        self.card = self.folder / "card"
        chance = random.Random(3)
        for n, name in enumerate(NAMES):
            path = self.card / os.fsdecode(name)
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(b"" if name == b"empty" else chance.randbytes(n * 37_000 + 1))
            os.utime(path, ns=(T + n * 10**9, T + n * 10**9))
        self.card.chmod(0o755)
        result = self.offloaded(FolderSource(self.card))
        self.assertTrue(result.verified, result.failed)
        self.assertIs(result.level, Evidence.READ_BACK)

    def test_it_unpacks_to_what_was_on_the_card(self):
        for program in ("tar", "bsdtar"):
            with self.subTest(program):
                there = self.folder / program
                there.mkdir()
                done = subprocess.run([program, "-xpf", self.package, "-C", there], capture_output=True)
                self.assertEqual(done.returncode, 0, done.stderr)
                same = subprocess.run(["diff", "-r", self.card, there / "A012"], capture_output=True)
                self.assertEqual((same.returncode, same.stdout), (0, b""))
                for name in NAMES:
                    copied = there / "A012" / os.fsdecode(name)
                    self.assertEqual(copied.stat().st_mtime_ns, self.at(name).stat().st_mtime_ns, name)
                sums = subprocess.run(["xxhsum", "-c", "A012.xxh128"], cwd=there, capture_output=True)
                lines = [line for line in sums.stdout.splitlines() if line.endswith(b": OK")]
                # older programs (0.8.1) do not read the escaped names that the list has two of
                self.assertIn(len(lines), (len(NAMES), len(NAMES) - 2), sums.stdout)
                self.assertNotIn(b"FAILED", sums.stdout)

    def at(self, name: bytes) -> Path:
        return self.card / os.fsdecode(name)

    def test_one_clip_is_taken_out_by_name(self):
        got = subprocess.run(["tar", "-xOf", self.package, "A012/CLIP/späť.mov"], capture_output=True)
        self.assertEqual(got.stdout, (self.card / "CLIP/späť.mov").read_bytes())

    def test_ours_say_the_same_of_it(self):
        self.assertEqual(verify([str(self.package)]), 0)
        source = PackageSource([self.package])
        listed = {os.fsencode(entry.path): entry for entry in list_card(source).files}
        self.assertEqual(set(listed), set(NAMES))
        for name, entry in listed.items():
            facts = self.at(name).stat()
            self.assertEqual((entry.size, entry.modified_ns), (facts.st_size, facts.st_mtime_ns))

    def test_every_file_has_pages_of_its_own(self):
        """So that reading one back from the medium does not meet what is being written of another."""
        with self.package.open("rb") as file:
            members = sorted(Package.read(file.fileno()).members.values(), key=lambda one: one.at)
        before = 0
        for one in members:
            self.assertEqual(one.at % 4096, 0)
            self.assertGreaterEqual(one.at - 1, before)
            before = -(-(one.at + one.size) // 4096) * 4096

    def test_the_same_card_makes_the_same_bytes(self):
        first = self.package.read_bytes()
        self.package.unlink()
        self.offloaded(FolderSource(self.card))
        self.assertEqual(self.package.read_bytes(), first)

    def test_a_large_file_with_holes(self):
        """Beyond 8 GiB a header cannot say a size in octal (POSIX.1-2001, ustar): pax does."""
        card = self.folder / "large"
        card.mkdir()
        with (card / "C.MOV").open("wb") as file:
            file.truncate((8 << 30) + 5000)
            file.write(b"begins")
        store = store_at(self.folder)
        store.open()
        store.begin("B001")
        pending = store.write("B001/C.MOV", (8 << 30) + 5000)
        pending.write(b"begins".ljust(4096, b"\0"))
        pending.skip((8 << 30) + 5000 - 4096)
        pending.end(T)
        self.assertEqual(store.commit([pending]), [None])
        store.settle([])
        store.close()
        made = self.folder / "B001.tar"
        self.assertLess(made.stat().st_blocks * 512, 1 << 20, "nobody writes zeros that the card does not keep")
        listed = subprocess.run(["tar", "-tvf", made], capture_output=True, text=True).stdout
        self.assertIn(f" {(8 << 30) + 5000} ", listed)
        self.assertEqual(verify([str(made)]), 0)


class Kept(Folder):
    FILES = {"DCIM/a.jpg": b"a" * 5000, "DCIM/b.jpg": b"b" * 2_000_000, "c": b""}

    def test_a_package_is_sealed_and_a_copy_like_any_other(self):
        result = self.packed(self.FILES)
        self.assertTrue(result.verified)
        self.assertEqual(self.package.stat().st_mode & 0o777, 0o444)
        self.assertEqual([path.name for path in self.folder.iterdir()], ["A012.tar"])
        store = store_at(self.folder)
        self.assertEqual(dict(store.look("A012")), {path: (len(content), T) for path, content in self.FILES.items()})
        source = store.as_source("A012")
        other = Path(self.enterContext(tempfile.TemporaryDirectory()))
        report = transfer(source, list_card(source), [Target(LocalStore("drive", other), "A012")], XXH128)
        self.assertTrue(report.stores[0].verified)
        self.assertEqual((other / "A012/DCIM/b.jpg").read_bytes(), self.FILES["DCIM/b.jpg"])

    def test_nothing_is_ever_changed_in_it(self):
        self.packed(self.FILES)
        before = self.package.read_bytes()
        store = store_at(self.folder)
        store.open()
        self.addCleanup(store.close)
        for act in (
            lambda: store.write("A012/new.xmp"), lambda: store.withdraw("A012/c"), lambda: store.set_aside("A012/c"),
        ):  # fmt: skip
            with self.assertRaisesRegex(FileRefused, "sealed package"):
                act()
        with self.assertRaises(FileMissing):
            store.withdraw("A012/none")
        with self.assertRaisesRegex(SourceUnreadable, "never changed"):
            PackageSource([self.package]).remove("c", lambda file: True)
        store.unseal("A012/c")
        self.assertEqual(self.package.read_bytes(), before)

    def test_what_comes_to_a_roll_later_goes_into_a_further_package(self):
        self.packed(self.FILES)
        first = self.package.read_bytes()
        result = self.packed(self.FILES | {"DCIM/d.jpg": b"d" * 300})
        self.assertTrue(result.verified)
        self.assertEqual((result.already, self.package.read_bytes()), (3, first))
        part = self.folder / "A012.part2.tar"
        self.assertEqual([len(verify_package(path).findings) for path in (self.package, part)], [0, 0])
        self.assertEqual(set(store_at(self.folder).look("A012")), {*self.FILES, "DCIM/d.jpg"})
        self.assertEqual(len(list_card(PackageSource([self.package, part])).files), 4)
        self.assertTrue(self.packed(self.FILES).verified)
        self.assertEqual(len(list(self.folder.iterdir())), 2, "nothing new makes no package")

    def test_another_file_of_that_name_is_told_and_left_alone(self):
        self.packed(self.FILES)
        first = self.package.read_bytes()
        for other in (b"x" * 5000, b"longer" * 5000):
            result = self.packed(self.FILES | {"DCIM/a.jpg": other})
            self.assertFalse(result.verified)
            self.assertEqual([one.path for one in result.failed], ["DCIM/a.jpg"])
        self.assertEqual(self.package.read_bytes(), first)

    def test_a_package_of_another_roll_is_not_taken_for_this_one(self):
        self.packed(self.FILES)
        shutil.copy(self.package, self.folder / "A013.tar")
        with self.assertRaisesRegex(FileRefused, "no package of A013"):
            store_at(self.folder).look("A013")

    def test_a_package_that_was_written_to_since_is_not_what_was_sealed(self):
        self.packed(self.FILES)
        self.package.chmod(0o644)
        with self.package.open("r+b") as file:
            file.seek(4096)
            file.write(b"?")
        self.assertTrue(all(time != T for _, time in store_at(self.folder).look("A012").values()))
