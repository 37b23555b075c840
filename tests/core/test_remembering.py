"""A run that goes on believes what an earlier part of it has proven, and nothing else."""

import os
import random
import tempfile
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import FolderSource, MemorySource, list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.local.notes import LocalNotes
from ruggedraft.core.stores.local.parts import NOTES, PARTS
from ruggedraft.core.transfer import Memory, Progress, Target, TransferReport, lane, transfer

from .test_stores import fetched

XXH, MD5 = algorithm_named("xxh128"), algorithm_named("md5")
KEY = b"of this ledger alone"
FIRST, LATER = Memory(KEY, "then"), Memory(KEY, "now")
CHANCE = random.Random(11)
FILES = {f"A/{n:03}.JPG": CHANCE.randbytes(3000 + n) for n in range(40)} | {
    f"CLIP/{n}.MOV": CHANCE.randbytes((1 << 20) + n) for n in range(4)
}
BYTES = sum(map(len, FILES.values()))


class Counting(MemorySource):
    """Remembers which files were read through, and not only at their ends."""

    def __init__(self, files, **more):
        super().__init__(files, **more)
        self.read: set[str] = set()

    def open(self, path):
        file = super().open(path)
        real = file.read_into

        def read_into(view):
            self.read.add(path)
            return real(view)

        file.read_into = read_into
        file.read_now = read_into
        return file


class Parts(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR"))
        self.addCleanup(folder.cleanup)
        groups = patch.object(lane, "_TOGETHER_FILES", 4)
        groups.start()
        self.addCleanup(groups.stop)
        self.base = Path(folder.name)
        self.files = dict(FILES)
        self.card = Counting(self.files)

    def store(self, name: str = "one") -> LocalStore:
        (self.base / name).mkdir(exist_ok=True)
        return LocalStore(name, self.base / name)

    def run_to(self, *stores, memory: Memory | None = LATER, algorithm=XXH, **words) -> TransferReport:
        targets = [Target(store, "day/A001", memory) for store in stores]
        self.card.read.clear()
        return transfer(self.card, list_card(self.card), targets, algorithm, **words)

    def cut_short(self, *stores, at: float = 0.5, memory: Memory | None = FIRST) -> None:
        """The card is pulled when so much of it was read."""
        self.card.pull_after = self.card.served + int(BYTES * at)
        self.assertFalse(self.run_to(*stores, memory=memory).verified)
        self.card.pull_after = None

    def notes(self, name: str = "one") -> Path:
        return next((self.base / name / PARTS).glob(f"*{NOTES}"))

    def on(self, name: str, path: str) -> Path:
        return self.base / name / "day/A001" / path

    def whole(self, name: str = "one") -> bool:
        return all(self.on(name, path).read_bytes() == content for path, content in self.files.items())


class GoingOn(Parts):
    def test_only_what_was_not_proven_is_read(self):
        self.cut_short(self.store("one"), self.store("two"))
        report = self.run_to(self.store("one"), self.store("two"))
        self.assertTrue(report.verified)
        self.assertTrue(self.whole("one") and self.whole("two"))
        self.assertEqual([one.since for one in report.stores], [{"then"}] * 2)
        believed = FILES.keys() - self.card.read
        self.assertGreater(len(believed), 15)
        self.assertEqual(report.read.keys(), FILES.keys())
        again = self.run_to(self.store("one"), self.store("two"), memory=None)
        self.assertEqual(again.read, report.read, "checksums and fingerprints are those of a reading")

    def test_a_third_part_believes_both_and_says_since_when(self):
        self.cut_short(self.store(), at=0.3)
        self.cut_short(self.store(), at=0.4, memory=LATER)
        report = self.run_to(self.store(), memory=Memory(KEY, "last"))
        self.assertEqual(report.stores[0].since, {"then", "now"})
        self.assertTrue(report.verified and self.whole())
        self.run_to(self.store())
        self.assertEqual(self.card.read, set(), "all of it is proven by now")

    def test_without_a_memory_or_with_another_key_everything_is_read(self):
        for memory in (None, Memory(b"another ledger's", "now")):
            with self.subTest(memory=memory):
                self.cut_short(self.store())
                report = self.run_to(self.store(), memory=memory)
                self.assertEqual((self.card.read, report.stores[0].since), (set(FILES), set()))
                self.assertTrue(report.verified)

    def test_other_checksums_are_taken_by_reading(self):
        self.cut_short(self.store())
        report = self.run_to(self.store(), algorithm=MD5)
        self.assertEqual(self.card.read, set(FILES))
        self.assertTrue(report.verified)

    def test_what_is_to_be_read_twice_is_read_twice(self):
        self.cut_short(self.store())
        report = self.run_to(self.store(), twice=True)
        self.assertEqual(self.card.read, set(FILES))
        self.assertTrue(report.verified)

    def test_a_store_that_comes_later_needs_the_card_and_the_others_do_not_read_back_again(self):
        one, two = self.store("one"), self.store("two")
        self.cut_short(one, at=0.9)
        served = self.card.served
        told: list[Progress] = []
        report = self.run_to(self.store("one"), two, on_progress=told.append)
        self.assertEqual(self.card.read, set(FILES))
        self.assertGreaterEqual(self.card.served - served, BYTES)
        self.assertTrue(report.verified and self.whole("one") and self.whole("two"))
        self.assertEqual([one.since for one in report.stores], [{"then"}, set()])
        self.assertGreater(told[-1].stores[0].recalled, BYTES // 2)
        self.assertEqual((told[-1].recalled, told[-1].stores[1].recalled), (0, 0))

    def test_a_store_that_is_gone_keeps_nobody_from_believing_the_others(self):
        self.cut_short(self.store("one"), self.store("two"))
        two = MemoryStore("two", vanish_after=0)
        report = self.run_to(self.store("one"), two)
        self.assertTrue(report.stores[0].verified)
        self.assertFalse(report.stores[1].agreed)
        self.assertGreater(len(FILES.keys() - self.card.read), 15)
        told = {one.path for one in report.stores[1].failed}
        self.assertLessEqual(FILES.keys(), told, "of each file it is said that it is not there")

    def test_progress_tells_what_is_there_and_what_of_it_was_recalled(self):
        self.cut_short(self.store())
        told: list[Progress] = []
        self.run_to(self.store(), on_progress=told.append)
        last = told[-1]
        self.assertEqual((last.read, last.stores[0].written, last.stores[0].verified), (BYTES,) * 3)
        self.assertEqual(last.recalled, last.stores[0].recalled)
        self.assertGreater(last.recalled, BYTES // 4)

    def test_the_kernel_counts_a_tenth_when_it_was_cut_short_at_nine_tenths(self):
        """proc(5), io: read_bytes; what this process had fetched from storage, of card and store together."""
        home, size, count = self.base / "card", 4 << 20, 30
        home.mkdir()
        for n in range(count):
            (home / f"{n:02}.MOV").write_bytes(CHANCE.randbytes(size))
        os.sync()
        whole, _ = self.cost(home, "one", FIRST)
        self.assertGreater(whole, 1.9 * size * count, "card and store are on a medium")
        self.cost(home, "two", FIRST, stop_at=int(0.9 * size * count))
        later, report = self.cost(home, "two", LATER)
        self.assertTrue(report.verified)
        self.assertLess(later, 0.2 * whole)

    def cost(self, home: Path, name: str, memory: Memory, stop_at: int = 0) -> tuple[int, TransferReport]:
        """Bytes that a run had fetched from storage. stop_at: bytes on the store, verified"""
        for file in home.iterdir():
            with file.open("rb") as opened:
                os.posix_fadvise(opened.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)
        verified = [0]
        card, before = FolderSource(home), fetched()
        report = transfer(
            card, list_card(card), [Target(self.store(name), "A001", memory)], XXH,
            on_progress=lambda progress: verified.append(progress.stores[0].verified),
            cancelled=lambda: 0 < stop_at <= verified[-1],
        )  # fmt: skip
        return fetched() - before, report


class NotBelieved(Parts):
    """Time is lost, and truth never."""

    def test_notes_that_are_torn_or_changed_anywhere(self):
        self.cut_short(self.store(), at=0.7)
        good = self.notes().read_bytes()
        ends = [n for n, byte in enumerate(good) if byte == 10]
        cuts = [good[:at] for at in (0, 1, 64, ends[0], ends[0] + 1, ends[1] - 1, len(good) - 1)]
        flips = [good[:at] + bytes([good[at] ^ 1]) + good[at + 1 :] for at in CHANCE.sample(range(len(good)), 15)]
        lines = good.splitlines(keepends=True)
        moved = [b"".join(lines[::-1]), b"".join(lines[1:]), lines[0] + lines[0], os.urandom(3000), good + b"{}\n"]
        for content in (*cuts, *flips, *moved):
            with self.subTest(content[:20]):
                self.notes().write_bytes(content)
                report = self.run_to(self.store())
                self.assertTrue(report.verified and self.whole())
                self.assertEqual(report.read.keys(), FILES.keys())

    def test_notes_say_what_they_did_before_where_their_end_is_torn(self):
        self.cut_short(self.store(), at=0.7)
        self.notes().write_bytes(self.notes().read_bytes()[:-1])
        self.run_to(self.store())
        self.assertLess(len(self.card.read), len(FILES))
        self.run_to(self.store())
        self.assertEqual(self.card.read, set(), "what was noted after the torn end is believed as well")

    def test_a_file_that_was_touched_on_the_store(self):
        self.cut_short(self.store(), at=0.9)
        path = sorted(FILES)[0]
        file = self.on("one", path)
        facts = file.stat()
        with file.open("r+b") as opened:
            opened.write(b"x")
        os.utime(file, ns=(facts.st_atime_ns, facts.st_mtime_ns))
        report = self.run_to(self.store())
        self.assertNotIn(path, report.stores[0].agreed)
        self.assertIn(path, {one.path for one in report.stores[0].failed})
        self.assertIn(path, self.card.read)
        file.unlink()
        self.assertTrue(self.run_to(self.store()).verified and self.whole())

    def test_a_file_that_is_to_be_kept_elsewhere_by_now(self):
        self.cut_short(self.store(), at=0.9)
        path = sorted(FILES)[0]
        report = self.run_to(self.store(), kept_as={path: "A/renamed.JPG"})
        self.assertIn(path, self.card.read)
        self.assertTrue(report.verified)
        self.assertEqual(self.on("one", "A/renamed.JPG").read_bytes(), FILES[path])

    def test_whatever_goes_wrong_with_the_notes_costs_time(self):
        self.cut_short(self.store(), at=0.9)
        for call in ("read", "stamps", "keep"):
            with self.subTest(call), patch.object(LocalNotes, call, side_effect=RuntimeError("nobody foresaw this")):
                report = self.run_to(self.store())
                self.assertTrue(report.verified and self.whole())

    def test_a_link_in_place_of_a_file(self):
        self.cut_short(self.store(), at=0.9)
        path = sorted(FILES)[0]
        elsewhere = self.base / "elsewhere"
        self.on("one", path).rename(elsewhere)
        self.on("one", path).symlink_to(elsewhere)
        report = self.run_to(self.store())
        self.assertNotIn(path, report.stores[0].agreed)

    def test_a_file_of_the_card_that_is_another_one(self):
        """Of the same size and time, as cameras without a clock make them after a format."""
        for size, at in ((3000, 10), ((1 << 20), 70_000 - 1), ((1 << 20), 0)):
            with self.subTest(size=size, at=at):
                self.setUp()
                self.cut_short(self.store(), at=0.99)
                path = next(path for path in sorted(FILES) if len(FILES[path]) >= size)
                content = bytearray(FILES[path])
                content[at if at < 65_536 else -at] ^= 1
                self.files[path] = bytes(content)
                report = self.run_to(self.store())
                if at < 65_536:
                    self.assertNotIn(path, report.stores[0].agreed, "another file stands under its name")
                    self.assertIn(path, self.card.read)

    def test_what_is_known_otherwise_of_a_file(self):
        self.cut_short(self.store(), at=0.9)
        path = sorted(FILES)[0]
        report = self.run_to(self.store(), expected={path: "0" * 32})
        self.assertIn(path, {one.path for one in report.unread})
        self.assertNotIn(path, report.stores[0].agreed)

    def test_what_the_cards_own_list_says_of_it(self):
        path = sorted(FILES)[0]
        recorded = {path: (MD5, "0" * 32)}
        self.card.pull_after = int(0.9 * BYTES)
        self.run_to(self.store(), memory=FIRST, recorded=recorded)
        self.card.pull_after = None
        report = self.run_to(self.store(), recorded=recorded)
        self.assertEqual([one.path for one in report.doubted], [path], "it is told again")
        self.assertIn(path, self.card.read)
        report = self.run_to(self.store(), recorded={path: (MD5, "1" * 32)})
        self.assertEqual([one.path for one in report.doubted], [path])

    def test_a_file_that_goes_away_during_the_run_is_not_claimed(self):
        self.cut_short(self.store(), at=0.9)
        path = sorted(FILES)[0]

        def take_away(progress: Progress) -> None:
            if progress.recalled:
                self.on("one", path).unlink(missing_ok=True)

        store = self.store()
        settle = store.settle
        store.settle = lambda folders: (self.on("one", path).unlink(missing_ok=True), settle(folders))
        report = self.run_to(store, on_progress=take_away)
        self.assertNotIn(path, report.stores[0].agreed)
        self.assertFalse(report.verified)

    def test_another_run_that_is_alive_keeps_its_notes_to_itself(self):
        self.cut_short(self.store(), at=0.9)
        other = self.store()
        other.open()
        self.addCleanup(other.close)
        other.notes("day/A001").read()
        report = self.run_to(self.store())
        self.assertEqual(self.card.read, set(FILES))
        self.assertTrue(report.verified)

    def test_old_notes_are_cleared_away(self):
        self.cut_short(self.store())
        os.utime(self.notes(), (1, 1))
        self.run_to(self.store(), memory=None)
        self.assertFalse((self.base / "one" / PARTS).exists())

    def test_forgotten(self):
        self.cut_short(self.store())
        self.store().notes("day/A001").forget()
        self.assertFalse((self.base / "one" / PARTS).exists())
        self.run_to(self.store())
        self.assertEqual(self.card.read, set(FILES))
