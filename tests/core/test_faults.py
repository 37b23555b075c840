"""Every call a store makes goes wrong in every way, once; after each, claims are compared with the bytes on disk.

`./raft test --long` injects every fault at every call; the short form takes one in so many of them.
"""

import errno
import os
import shutil
import sys
import tempfile
import threading
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.cards import MemorySource, list_card
from ruggedraft.core.errors import StoreError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.local import PARTS
from ruggedraft.core.transfer import Target, TransferReport, engine, transfer

from .faults import Fault, every_fault, faulty

XXH = algorithm_named("xxh128")
FILES = {"DCIM/100AAAAA/A1.JPG": b"one" * 700, "DCIM/100AAAAA/A2.JPG": b"two" * 1200, "zero": b"", "notes": b"three"}
LONG = bool(os.environ.get("RAFT_LONG"))
ONE_IN = 1 if LONG else 7


class FaultCase(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR"))
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        chunk = patch.object(engine, "CHUNK", 1500)
        chunk.start()
        self.addCleanup(chunk.stop)
        self.card = MemorySource(dict(FILES))

    def drive(self, name: str) -> Path:
        folder = self.base / name
        shutil.rmtree(folder, ignore_errors=True)
        folder.mkdir()
        return folder

    def run_to(self, drive: Path, **words) -> TransferReport | None:
        """None where the store could not even be found."""
        try:
            store = LocalStore(drive.name, drive)
        except StoreError:
            return None
        return transfer(self.card, list_card(self.card), [Target(store, "day/A001")], XXH, **words)

    def wrong_claims(self, report: TransferReport | None, drive: Path) -> list[str]:
        """Whatever is claimed of this drive and is not so, byte for byte."""
        if report is None:
            return []
        (result,) = report.stores
        wrong = [f"{path} is claimed" for path in result.agreed if self.on(drive, path) != FILES[path]]
        if result.verified and not (result.agreed == FILES.keys() and result.level is Evidence.READ_BACK):
            wrong.append("verified, though not everything agrees")
        told = result.agreed | {failure.path for failure in result.failed}
        wrong += [f"nothing is said of {path}" for path in FILES.keys() - told]
        whole = {f"day/A001/{path}" for path in FILES}
        for file in drive.rglob("*"):
            name = str(file.relative_to(drive))
            if file.is_file() and not name.startswith(PARTS) and name not in whole:
                wrong.append(f"{name} was left behind")
        return wrong

    def on(self, drive: Path, path: str) -> bytes | None:
        file = drive / "day/A001" / path
        return file.read_bytes() if file.is_file() else None


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

    def try_every_fault(self, prepare: Callable[[Path], object]) -> None:
        """One fault, a run, a comparison; then a run without any, and another comparison."""
        drive = self.drive("counting")
        prepare(drive)
        with faulty() as counted:
            self.assertTrue(self.run_to(drive).verified)
        cases = every_fault(counted.calls)
        tried, wrong, struck = cases[::ONE_IN], [], 0
        for fault in tried:
            drive = self.drive("drive")
            prepare(drive)
            with faulty(fault) as system:
                report = self.run_to(drive)
            struck += system.struck > 0
            wrong += [f"{fault}: {words}" for words in self.wrong_claims(report, drive)]
            again = self.run_to(drive)
            wrong += [f"{fault}, resumed: {words}" for words in self.wrong_claims(again, drive)]
            if not again.verified and fault.how != "rotten afterwards":
                wrong.append(f"{fault}, resumed: it does not complete: {again.stores[0].failed}")
        print(f"\n{len(tried)} of {len(cases)} faults, {struck} struck, {len(wrong)} wrong claims", file=sys.stderr)
        self.assertEqual(wrong, [])
        self.assertGreater(struck, 0.8 * len(tried), "the harness strikes where it aims")
        self.assertGreater(len(cases), 400)

    def test_the_harness_sees_a_wrong_claim(self):
        """A check that cannot fail would prove nothing: an engine that believes what it wrote is caught."""

        def believe(descriptor: int, consume: Callable) -> Evidence:
            consume(self._wrote.get(os.fstat(descriptor).st_size, b""))
            return Evidence.READ_BACK

        self._wrote = {len(content): content for content in FILES.values()}
        drive = self.drive("drive")
        with patch("ruggedraft.core.stores.local.read_past_caches", believe), faulty(Fault("write", 0, "flipped")):
            report = self.run_to(drive)
        self.assertEqual(self.wrong_claims(report, drive), ["DCIM/100AAAAA/A1.JPG is claimed"])


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
                self.assertEqual(self.wrong_claims(report, drive), [])
            self.assertTrue(self.run_to(drive).verified)
            self.assertFalse((drive / PARTS).exists())

    def note(self, drive: Path, reports: list) -> None:
        reports.append(self.run_to(drive))

    def test_a_store_that_fills_up_and_one_that_does_not_are_told_apart(self):
        one, two = self.drive("one"), self.drive("two")
        stores = [LocalStore(drive.name, drive) for drive in (one, two)]
        with faulty(Fault("write", 3, errno.ENOSPC, ever_after=True)):
            report = transfer(self.card, list_card(self.card), [Target(store, "day/A001") for store in stores], XXH)
        for result, drive in zip(report.stores, (one, two), strict=True):
            alone = TransferReport(report.read, report.unread, [result])
            self.assertEqual(self.wrong_claims(alone, drive), [])
