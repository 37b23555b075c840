"""Packages that were cut short, damaged or made up: what is whole in them goes on, and nothing else is claimed."""

import io
import json
import os
import random
import subprocess
import tarfile

from ruggedraft.commands.verify import main as verify
from ruggedraft.core.errors import (
    FileRefused,
    MalformedList,
    SourceUnreadable,
    SourceVanished,
    StoreStopped,
)
from ruggedraft.core.packages import PackageSource, verify_package
from ruggedraft.core.packages.reading import Package
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.transfer import Target, transfer

from .packed import XXH128, Folder, store_at
from .store_contract import T


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
