"""A whole roll in one sealed file: written, opened by others' programs, read again, damaged."""

import io
import json
import os
import random
import shutil
import subprocess
import tarfile
import tempfile
from pathlib import Path
from unittest import TestCase

from ruggedraft.commands.verify import main as verify
from ruggedraft.core.errors import (
    FileMissing,
    FileRefused,
    MalformedList,
    SourceUnreadable,
    SourceVanished,
    StoreStopped,
)
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.packages import PackageSource, verify_package
from ruggedraft.core.packages.reading import Package
from ruggedraft.core.sources import FolderSource, MemorySource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.packages import PackageStore
from ruggedraft.core.transfer import Target, transfer

from .store_contract import StoreContract, T

XXH128 = algorithm_named("xxh128")
NAMES = (
    b"DCIM/100AAAAA/AAAA0001.JPG", "CLIP/späť.mov".encode(), b"caf\xe9.MOV", b"back\\slash", b"new\nline", b"-rf",
    b"x" * 250, b"Clip.mov", b"clip.mov", b"empty", "クリップ/一.wav".encode(), b"a b/*?.txt", b"A012/A012.xxh128",
)  # fmt: skip


def store_at(folder: Path) -> PackageStore:
    return PackageStore(LocalStore("vault", folder), folder)


class Folder(TestCase):
    def setUp(self):
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def packed(self, files: dict[str, bytes], **words):
        """A card of these files, offloaded into a package; what came of it."""
        return self.offloaded(MemorySource(files, modified_ns=T), **words)

    def offloaded(self, card, folder: str = "A012", **words):
        store = store_at(self.folder)
        report = transfer(card, list_card(card), [Target(store, folder)], XXH128, **words)
        return report.stores[0]

    @property
    def package(self) -> Path:
        return self.folder / "A012.tar"


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


class CutShort(Folder):
    FILES = {f"DCIM/{n:03}.jpg": bytes([n]) * (n * 50_000 + 7) for n in range(60)}

    def test_a_run_goes_on_with_what_an_earlier_one_left(self):
        """As it is after a killed worker: the file is there, and nobody has it open."""
        store = store_at(self.folder)
        card = MemorySource(dict(list(self.FILES.items())[:40]), modified_ns=T)
        store.settle = lambda folders: None
        transfer(card, list_card(card), [Target(store, "A012")], XXH128)
        left = self.folder / "A012.tar.unfinished"
        with left.open("r+b") as file:  # and the last of it did not reach the disk
            file.truncate(left.stat().st_size - 3_000_000)
        self.assertEqual(dict(store_at(self.folder).look("A012")), {}, "it is no package before it is sealed")
        result = self.packed(self.FILES)
        self.assertTrue(result.verified, result.failed)
        self.assertGreater(result.already, 30)
        self.assertEqual([path.name for path in self.folder.iterdir()], ["A012.tar"])
        self.assertEqual((verify([str(self.package)]), verify_package(self.package).agreed), (0, 60))

    def test_a_header_that_came_apart_is_written_again_with_all_behind_it(self):
        """Others' programs may read over a turned bit in it, so that it is found and yet no package can be sealed."""
        for at in (600, 3000):
            store = store_at(self.folder)
            store.settle = lambda folders: None
            card = MemorySource(self.FILES, modified_ns=T)
            transfer(card, list_card(card), [Target(store, "A012")], XXH128)
            with (self.folder / "A012.tar.unfinished").open("r+b") as file:
                members = sorted(Package.by_headers(file.fileno(), "A012").values(), key=lambda one: one.at)
                file.seek(members[30].at - 4096 + at)
                file.write(b"?")
            result = self.packed(self.FILES)
            self.assertTrue(result.verified, result.failed)
            self.assertIn(result.already, range(25, 31))
            self.package.unlink()

    def test_what_was_left_and_is_wrong_is_found_by_reading(self):
        store = store_at(self.folder)
        store.settle = lambda folders: None
        card = MemorySource(self.FILES, modified_ns=T)
        transfer(card, list_card(card), [Target(store, "A012")], XXH128)
        with (self.folder / "A012.tar.unfinished").open("r+b") as file:
            file.seek(next(iter(Package.by_headers(file.fileno(), "A012").values())).at + 2)
            file.write(b"?")
        result = self.packed(self.FILES)
        self.assertFalse(result.verified)
        self.assertEqual(len(result.failed), 1)

    def test_one_that_did_not_get_its_name_can_be_written_by_the_next_run(self):
        """Only root opens for writing what is read-only."""
        store = store_at(self.folder)
        real = store._seal

        def taken(folders):
            (self.folder / "A012.tar").mkdir()
            real(folders)

        store._seal = taken
        card = MemorySource(self.FILES, modified_ns=T)
        report = transfer(card, list_card(card), [Target(store, "A012")], XXH128)
        self.assertEqual((report.stores[0].verified, report.stores[0].agreed), (False, set()))
        self.assertTrue((self.folder / "A012.tar.unfinished").stat().st_mode & 0o200)
        self.package.rmdir()
        self.assertTrue(self.packed(self.FILES).verified)

    def test_two_runs_do_not_write_one_package(self):
        mine, other = store_at(self.folder), store_at(self.folder)
        for store in (mine, other):
            store.open()
            self.addCleanup(store.close)
        mine.begin("A012")
        mine.write("A012/a").write(b"x")
        with self.assertRaisesRegex(StoreStopped, "another run is writing"):
            other.begin("A012")
        other.begin("A013")
        other.write("A013/a").write(b"y")

    def test_a_card_that_does_not_give_a_file_leaves_no_trace_of_it(self):
        card = MemorySource(self.FILES, modified_ns=T, unreadable={"DCIM/030.jpg", "DCIM/059.jpg"})
        result = self.offloaded(card)
        self.assertFalse(result.verified)
        self.assertEqual(len(result.agreed), 58)
        self.assertEqual(verify_package(self.package).agreed, 58)
        self.assertNotIn(b"left-out", subprocess.run(["tar", "-tf", self.package], capture_output=True).stdout[-2000:])

    def test_a_store_that_gives_back_other_bytes(self):
        store = store_at(self.folder)
        real = store.read_back

        def _rotten(path, consume):
            return real(path, (lambda data: consume(bytes(data)[::-1])) if "007" in path else consume)

        store.read_back = _rotten
        card = MemorySource({path: os.urandom(9000) for path in self.FILES}, modified_ns=T)
        report = transfer(card, list_card(card), [Target(store, "A012")], XXH128)
        self.assertEqual([one.path for one in report.stores[0].failed], ["DCIM/007.jpg"])
        self.assertEqual(verify_package(self.package).agreed, 59)
        names = subprocess.run(["tar", "-tf", self.package], capture_output=True, text=True)
        self.assertEqual(names.returncode, 0)
        self.assertIn("A012.left-out/1", names.stdout)
        self.assertNotIn("A012/DCIM/007.jpg", names.stdout)


class Damaged(Folder):
    FILES = {"DCIM/a.jpg": b"a" * 50_000, "DCIM/b.jpg": b"b" * 70_000, "c": b"c"}

    def setUp(self):
        super().setUp()
        self.packed(self.FILES)
        self.package.chmod(0o644)
        self.whole = self.package.read_bytes()
        with self.package.open("rb") as file:
            self.members = Package.read(file.fileno()).members

    def test_damage_is_named_by_file(self):
        at = self.members["DCIM/b.jpg"].at + 69_999
        self.package.write_bytes(self.whole[:at] + b"?" + self.whole[at + 1 :])
        report = verify_package(self.package)
        self.assertEqual([(one.path, one.kind) for one in report.findings], [("DCIM/b.jpg", "changed")])
        self.assertEqual((report.agreed, verify([str(self.package)])), (2, 1))
        held = bytearray()
        store_at(self.folder).read_back("A012/DCIM/b.jpg", held.extend)
        self.assertNotEqual(bytes(held), self.FILES["DCIM/b.jpg"])

    def test_without_its_index_what_is_there_is_found_by_its_headers(self):
        at = self.whole.index(b'{"form":1,"name"')
        self.package.write_bytes(self.whole[: at + 30] + b"?" + self.whole[at + 31 :])
        report = verify_package(self.package)
        self.assertEqual((report.agreed, [one.path for one in report.findings]), (3, ["A012.tar"]))
        self.assertEqual(verify([str(self.package)]), 1)
        self.assertEqual(set(store_at(self.folder).look("A012")), set(self.FILES))

    def test_a_package_that_was_cut_off(self):
        at = self.members["DCIM/b.jpg"].at + 100
        self.package.write_bytes(self.whole[:at])
        with self.assertRaises(MalformedList):
            verify_package(self.package)
        self.assertEqual(verify([str(self.package)]), 2)
        there = store_at(self.folder).look("A012")
        self.assertNotIn("c", there)
        held = bytearray()
        with self.assertRaises(FileRefused):
            store_at(self.folder).read_back("A012/DCIM/b.jpg", held.extend)

    def test_every_bit_of_what_is_no_file_may_turn(self):
        """Whatever turns in headers, lists and index: never more is said to agree than does."""
        chance, told = random.Random(7), 0
        places = [range(one.at, one.at + one.size) for one in self.members.values()]
        while told < 150:
            at = chance.randrange(len(self.whole))
            if any(at in place for place in places):
                continue
            told += 1
            bent = bytearray(self.whole)
            bent[at] ^= 1 << chance.randrange(8)
            self.package.write_bytes(bent)
            try:
                report = verify_package(self.package)
            except MalformedList:
                continue
            self.assertLessEqual(report.agreed, 3)
            held = {}
            store = store_at(self.folder)
            try:
                for path in store.look("A012"):
                    held[path] = bytearray()
                    store.read_back(f"A012/{path}", held[path].extend)
            except FileRefused:
                continue
            same = [path for path, content in held.items() if content == self.FILES.get(path)]
            self.assertGreaterEqual(len(same), report.agreed)

    def test_archives_that_were_made_up(self):
        bent = {
            "climbs": [("A012/../../x", 3)], "from the root": [("/A012/x", 3)], "twice": [("A012/x", 3), ("A012/x", 4)],
        }  # fmt: skip
        for what, entries in bent.items():
            with self.subTest(what), tarfile.open(self.package, "w") as archive:
                for name, size in entries:
                    info = tarfile.TarInfo(name)
                    info.size = size
                    archive.addfile(info, io.BytesIO(bytes(size)))
            with self.subTest(what):
                with self.assertRaises(FileRefused):
                    store_at(self.folder).look("A012")
                with self.assertRaises(SourceUnreadable):
                    PackageSource([self.package])
        self.package.write_bytes(b"")
        with self.assertRaisesRegex(SourceUnreadable, "no file that can be read"):
            PackageSource([self.package])
        self.package.unlink()
        with self.assertRaises(SourceVanished):
            PackageSource([self.package])
        self.package.symlink_to("/etc/passwd")
        with self.assertRaises(SourceVanished):
            PackageSource([self.package])

    def test_an_index_that_was_made_up(self):
        name = b'{"form":1,"name"'
        at = self.whole.index(name)
        said = json.loads(self.whole[at : self.whole.index(b"\0", at)])
        size = len(self.whole)
        for what, row in (
            ("climbs", ["../x", 0, 1, 0, 0, ""]), ("behind the end", ["x", size, 10, 0, 0, ""]),
            ("negative", ["x", 4096, -5, 0, 0, ""]), ("twice", said["files"][0]), ("short", ["x"]),
            ("no number", ["x", "0", 1, 0, 0, ""]),
        ):  # fmt: skip
            with self.subTest(what), self.assertRaises(MalformedList):
                from ruggedraft.core.packages.form import parse_index

                parse_index(json.dumps(said | {"files": [*said["files"], row]}).encode(), at)

    def test_a_header_with_a_length_made_up_fills_no_memory(self):
        info = tarfile.TarInfo("././@PaxHeader")
        info.type, info.size = tarfile.XHDTYPE, 1 << 40
        with self.package.open("wb") as file:
            file.write(info.tobuf(tarfile.GNU_FORMAT))
            file.truncate((1 << 40) + 4096)
        with self.assertRaises(FileRefused):
            store_at(self.folder).look("A012")
