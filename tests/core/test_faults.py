"""Every call a store or a card makes goes wrong in every way; then claims are compared with the bytes on disk.

`./raft test --long` injects every fault at every call; the short form takes one in so many of them.
"""

import os
import random
import shutil
import sys
import tempfile
import threading
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.errors import SourceError, StoreError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import CardSource, FolderSource, MemorySource, list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.local import PARTS, parts
from ruggedraft.core.transfer import Memory, Target, TransferReport, buffers, lane, transfer

from .faults import POWER, Fault, every_fault, faulty, tmpfs_is_a_medium

XXH = algorithm_named("xxh128")
LARGE = random.Random(5).randbytes((1 << 20) + 777)
FILES = {
    "DCIM/100AAAAA/A1.JPG": b"one" * 700,
    "DCIM/100AAAAA/A2.MOV": LARGE,
    "DCIM/100AAAAA/A3.JPG": b"two" * 1200,
    "zero": b"",
    "notes": b"three",
}
LONG = bool(os.environ.get("RAFT_LONG"))
ONE_IN = 1 if LONG else 36 if os.environ.get("RAFT_QUICK") else 9


def _quick_folder() -> str | None:
    """Thousands of runs want a file system in memory; where there is none, the ordinary one does, slowly."""
    return "/dev/shm" if Path("/dev/shm").is_mount() else os.environ.get("RAFT_VAR")


class FaultCase(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory(dir=_quick_folder())
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        # a large file in several pieces, small ones in two groups
        for place, name, value in ((buffers, "SIZE", 1 << 18), (lane, "_TOGETHER_FILES", 2)):
            smaller = patch.object(place, name, value)
            smaller.start()
            self.addCleanup(smaller.stop)
        pretended = tmpfs_is_a_medium()
        pretended.__enter__()
        self.addCleanup(pretended.__exit__, None, None, None)
        self.card: CardSource = MemorySource(dict(FILES))
        self.other = MemoryStore("other")
        self.memory: Memory | None = None

    def drive(self, name: str) -> Path:
        folder = self.base / name
        shutil.rmtree(folder, ignore_errors=True)
        folder.mkdir()
        return folder

    def run_to(self, drive: Path, **words) -> TransferReport | None:
        """To a drive and to a second store that nothing ever happens to. None where a place could not even be found."""
        self.other = self.another()
        try:
            stores = (LocalStore(drive.name, drive), self.other)
            targets = [Target(store, "day/A001", self.memory) for store in stores]
            return transfer(self.card, list_card(self.card), targets, XXH, **words)
        except (StoreError, SourceError):
            return None

    def another(self) -> MemoryStore:
        return MemoryStore("other")

    def wrong_claims(self, report: TransferReport | None, drive: Path) -> list[str]:
        """Whatever is claimed and is not so, byte for byte."""
        if report is None:
            return []
        result, other = report.stores
        wrong = [f"{path} is claimed" for path in result.agreed if self.on(drive, path) != FILES[path]]
        held = {path: self.other.files.get(f"day/A001/{path}", (None,))[0] for path in FILES}
        wrong += [f"{path} is claimed of the other store" for path in other.agreed if held[path] != FILES[path]]
        if result.verified and not (result.agreed == FILES.keys() and result.level is Evidence.READ_BACK):
            wrong.append("verified, though not everything agrees")
        told = result.agreed | {failure.path for failure in result.failed}
        wrong += [f"nothing is said of {path}" for path in FILES.keys() - told]
        return wrong + self.left_behind(drive)

    def left_behind(self, drive: Path) -> list[str]:
        whole = {f"day/A001/{path}" for path in FILES}
        names = [str(file.relative_to(drive)) for file in drive.rglob("*") if file.is_file()]
        return [f"{name} was left behind" for name in names if not name.startswith(PARTS) and name not in whole]

    def not_whole(self, drive: Path) -> list[str]:
        """Files under their final names that are not the card's."""
        there = {path: self.on(drive, path) for path in FILES}
        return [
            f"{path} stands there and is not whole" for path, held in there.items() if held not in (None, FILES[path])
        ]

    def on(self, drive: Path, path: str) -> bytes | None:
        file = drive / "day/A001" / path
        return file.read_bytes() if file.is_file() else None

    def tell(self, tried: int, of: int, struck: int, wrong: list[str]) -> None:
        print(f"\n{self.id()}: {tried} of {of} faults, {struck} struck, {len(wrong)} wrong claims", file=sys.stderr)
        self.assertEqual(wrong, [])

    def cases(self, calls: Counter) -> list[Fault]:
        """What is tried of what there is."""
        return every_fault(calls)

    def count(self, prepare: Callable[[Path], object]):
        drive = self.drive("counting")
        prepare(drive)
        with faulty() as counted:
            report = self.run_to(drive)
            self.assertTrue(report.verified, report.stores)
        return counted.calls

    def try_every_fault(self, prepare: Callable[[Path], object]) -> None:
        """One fault, a run, a comparison; then a run without any, and another comparison."""
        cases = self.cases(self.count(prepare))
        tried, wrong, struck = cases[::ONE_IN], [], 0
        for fault in tried:
            drive = self.drive("drive")
            prepare(drive)
            with faulty(fault) as system:
                report = self.run_to(drive)
            struck += system.struck > 0
            wrong += [f"{fault}: {words}" for words in self.wrong_claims(report, drive)]
            if report and not report.stores[1].verified:
                wrong.append(f"{fault}: the other store suffers from it: {report.stores[1].failed}")
            again = self.run_to(drive)
            wrong += [f"{fault}, resumed: {words}" for words in self.wrong_claims(again, drive)]
            if not (again and again.verified) and fault.how != "rotten afterwards":
                wrong.append(f"{fault}, resumed: it does not complete: {again and again.stores[0].failed}")
        self.tell(len(tried), len(cases), struck, wrong)
        self.assertGreater(struck, 0.8 * len(tried), "the harness strikes where it aims")
        self.assertGreater(len(cases), 800)

    def cut_power_everywhere(self) -> None:
        """The run is dead and has claimed nothing; what has its final name is whole; the next run completes."""
        calls = self.count(lambda drive: None)["any"]
        wrong, cuts = [], [Fault("any", nth, POWER, ever_after=True) for nth in range(0, calls, 1 if LONG else 4)]
        for n, fault in enumerate(cuts):
            drive = self.drive("drive")
            with faulty(fault) as system:
                self.run_to(drive)
            system.lose_what_was_not_synced(drive, random.Random(n))
            wrong += [f"{fault}: {words}" for words in (*self.left_behind(drive), *self.not_whole(drive))]
            again = self.run_to(drive)
            wrong += [f"{fault}, resumed: {words}" for words in self.wrong_claims(again, drive)]
            if not (again and again.verified):
                wrong.append(f"{fault}, resumed: it does not complete: {again and again.stores[0].failed}")
        self.tell(len(cuts), calls, len(cuts), wrong)


class EveryCall(FaultCase):
    def test_each_fault_at_each_call_on_an_empty_store(self):
        self.try_every_fault(lambda drive: None)

    def test_each_fault_at_each_call_where_half_is_there(self):
        self.try_every_fault(self.leave_half)

    def test_each_fault_at_each_call_after_a_run_that_died(self):
        self.try_every_fault(self.leave_parts)

    def leave_half(self, drive: Path) -> None:
        file = drive / "day/A001/DCIM/100AAAAA/A1.JPG"
        file.parent.mkdir(parents=True)
        file.write_bytes(FILES["DCIM/100AAAAA/A1.JPG"])

    def leave_parts(self, drive: Path) -> None:
        (drive / PARTS / "0123456789abcdef").mkdir(parents=True)
        (drive / PARTS / "0123456789abcdef" / "1").write_bytes(b"one" * 100)

    def test_power_cut_between_any_two_calls(self):
        self.cut_power_everywhere()

    def test_a_power_cut_would_show_if_names_were_given_before_syncing(self):
        """A check that cannot fail would prove nothing."""
        found = []
        with patch.object(parts.RunFolder, "sync"):
            for nth in range(0, self.count(lambda drive: None)["any"], 3):
                drive = self.drive("drive")
                with faulty(Fault("any", nth, POWER, ever_after=True)) as system:
                    self.run_to(drive)
                system.lose_what_was_not_synced(drive, random.Random(nth))
                found += self.not_whole(drive)
        self.assertTrue(found)

    def test_the_harness_sees_a_wrong_claim(self):
        """As above: an engine that believes what it wrote is caught."""

        def believe(store, files, consume: Callable) -> list[Evidence]:
            for index, file in enumerate(files):
                consume(index, wrote[file.size])
            return [Evidence.READ_BACK] * len(files)

        wrote = {len(content): content for content in FILES.values()}
        last = self.count(lambda drive: None)["write"] - 1  # one of a small file
        drive = self.drive("drive")
        with patch.object(LocalStore, "read_back_small", believe), faulty(Fault("write", last, "flipped")):
            report = self.run_to(drive)
        self.assertEqual(len(self.wrong_claims(report, drive)), 1)


class GoingOn(FaultCase):
    """What an earlier part of the run has proven is believed by the next."""

    def setUp(self):
        super().setUp()
        self.memory = Memory(b"a key of this ledger", "then")
        self.kept = MemoryStore("other")

    def another(self) -> MemoryStore:
        """The same from one part of a run to the next."""
        return self.kept

    def drive(self, name: str) -> Path:
        self.kept = MemoryStore("other")
        return super().drive(name)

    def leave_unfinished(self, drive: Path) -> None:
        """The card was pulled when all but two of its files had been proven."""
        whole, self.card = self.card, MemorySource(dict(FILES), pull_after=len(LARGE) + 2200)
        try:
            self.run_to(drive)
        finally:
            self.card = whole

    def test_the_card_is_read_where_nothing_was_proven_and_nowhere_else(self):
        drive = self.drive("drive")
        self.leave_unfinished(drive)
        report = self.run_to(drive)
        self.assertTrue(report.verified)
        self.assertEqual([one.since for one in report.stores], [{"then"}] * 2)

    def test_each_fault_at_each_call_where_an_earlier_part_was_cut_short(self):
        self.try_every_fault(self.leave_unfinished)

    def test_power_cut_between_any_two_calls(self):
        self.cut_power_everywhere()


class EveryCallOfTheCard(FaultCase):
    """The card is read twice, as a reader that gives other bytes once would be believed by a single reading."""

    def setUp(self):
        super().setUp()
        for path, content in FILES.items():
            file = self.base / "card" / path
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_bytes(content)

    def run_to(self, drive: Path, **words) -> TransferReport | None:
        self.other = MemoryStore("other")
        try:
            self.card = FolderSource(self.base / "card")
            targets = [Target(MemoryStore("one"), "day/A001"), Target(self.other, "day/A001")]
            return transfer(self.card, list_card(self.card), targets, XXH, twice=True)
        except SourceError:
            return None

    def wrong_claims(self, report: TransferReport | None, drive: Path) -> list[str]:
        if report is None:
            return []
        other = report.stores[1]
        held = {path: self.other.files.get(f"day/A001/{path}", (None,))[0] for path in FILES}
        wrong = [f"{path} is claimed" for path in other.agreed if held[path] != FILES[path]]
        if report.verified and other.agreed != FILES.keys():
            wrong.append("verified, though not everything was copied")
        return wrong

    def test_each_fault_at_each_call(self):
        with faulty() as counted:
            self.assertTrue(self.run_to(self.base).verified)
        cases = every_fault(counted.calls)
        tried, wrong, struck = cases[:: max(1, ONE_IN // 3)], [], 0
        for fault in tried:
            with faulty(fault) as system:
                report = self.run_to(self.base)
            struck += system.struck > 0
            wrong += [f"{fault}: {words}" for words in self.wrong_claims(report, self.base)]
        self.tell(len(tried), len(cases), struck, wrong)
        self.assertGreater(struck, 0.8 * len(tried), "the harness strikes where it aims")


class TwoAtOnce(FaultCase):
    def test_two_engines_on_one_target_agree_or_say_that_they_do_not(self):
        for _ in range(40 if LONG else 10):
            drive = self.drive("drive")
            reports: list[TransferReport | None] = []
            engines = [threading.Thread(target=self.note, args=(drive, reports)) for _ in range(2)]
            for one in engines:
                one.start()
            for one in engines:
                one.join()
            for report in reports:
                own = TransferReport(report.read, report.unread, [report.stores[0], report.stores[0]])
                wrong = [words for words in self.wrong_claims(own, drive) if "other store" not in words]
                self.assertEqual(wrong, [])
            self.assertTrue(self.run_to(drive).verified)
            self.assertFalse((drive / PARTS).exists())

    def note(self, drive: Path, reports: list) -> None:
        reports.append(self.run_to(drive))


class Clocks(FaultCase):
    def test_a_clock_that_jumps_changes_nothing_that_is_claimed(self):
        """Only the patience for slow stores looks at a clock; whatever it shows, the truth is told."""
        for seed in range(30 if LONG else 8):
            drive, chance = self.drive("drive"), random.Random(seed)
            jumping = patch.object(lane.time, "monotonic", lambda chance=chance: chance.uniform(-1e6, 1e6))
            with jumping:
                report = self.run_to(drive)
            self.assertEqual(self.wrong_claims(report, drive), [])
            self.assertTrue(self.run_to(drive).verified)


class Moved(FaultCase):
    def test_what_is_moved_or_cut_after_it_was_read_back_is_not_claimed(self):
        for words, act in (
            ("removed", lambda file: file.unlink()),
            ("cut", lambda file: os.truncate(file, 5)),
            ("moved with its folder", lambda file: file.parent.rename(file.parent.with_name("elsewhere"))),
        ):
            with self.subTest(words):
                drive = self.drive("drive")
                real = LocalStore.settle

                def settle(store, folders, act=act, drive=drive, real=real):
                    act(drive / "day/A001/DCIM/100AAAAA/A1.JPG")
                    real(store, folders)

                with patch.object(LocalStore, "settle", settle):
                    report = self.run_to(drive)
                self.assertFalse(report.stores[0].verified)
                self.assertNotIn("DCIM/100AAAAA/A1.JPG", report.stores[0].agreed)
                self.assertIn("not in its place", str(report.stores[0].failed))
                self.assertTrue(report.stores[1].verified)
