"""Every call that a store of packages makes goes wrong in every way; then claims are compared with what others read."""

import os
import random
import tarfile
from pathlib import Path

from ruggedraft.core.errors import SourceError, StoreError
from ruggedraft.core.packages.form import UNFINISHED
from ruggedraft.core.packages.writing import PackageWriter
from ruggedraft.core.sources import list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.packages import PackageStore
from ruggedraft.core.transfer import Target, TransferReport, transfer

from .faults import POWER, Fault, every_fault, faulty
from .test_faults import LONG, ONE_IN, XXH, FaultCase


class Packed(FaultCase):
    def run_to(self, drive: Path, **words) -> TransferReport | None:
        self.other = MemoryStore("other")
        try:
            packed = PackageStore(LocalStore(drive.name, drive), drive)
            targets = [Target(packed, "day/A001"), Target(self.other, "day/A001")]
            return transfer(self.card, list_card(self.card), targets, XXH, **words)
        except (StoreError, SourceError):
            return None

    def on(self, drive: Path, path: str) -> bytes | None:
        """As another program finds it: by the archive's headers."""
        for package in sorted(drive.glob("day/A001*.tar")):
            with tarfile.open(package) as archive:
                if f"A001/{path}" in archive.getnames():
                    return archive.extractfile(f"A001/{path}").read()
        return None

    def left_behind(self, drive: Path) -> list[str]:
        names = [file.name for file in drive.rglob("*") if file.is_file()]
        return [f"{name} was left behind" for name in names if not name.removesuffix(UNFINISHED).endswith(".tar")]

    def cases(self) -> tuple[list[Fault], int]:
        drive = self.drive("counting")
        with faulty() as counted:
            report = self.run_to(drive)
            self.assertTrue(report.verified, report.stores)
        # what rots after it was read back is for the next check to find, and no wrong claim
        cases = [fault for fault in every_fault(counted.calls) if fault.how != "rotten afterwards"]
        return cases, counted.calls["any"]

    def test_each_fault_at_each_call(self):
        cases, _ = self.cases()
        tried, wrong, struck = cases[::ONE_IN], [], 0
        for fault in tried:
            drive = self.drive("drive")
            with faulty(fault) as system:
                report = self.run_to(drive)
            struck += system.struck > 0
            wrong += [f"{fault}: {words}" for words in self.wrong_claims(report, drive)]
            if report and not report.stores[1].verified:
                wrong.append(f"{fault}: the other store suffers from it: {report.stores[1].failed}")
            again = self.run_to(drive)
            wrong += [f"{fault}, resumed: {words}" for words in self.wrong_claims(again, drive)]
            if not again or not again.verified:
                wrong.append(f"{fault}, resumed: it does not complete: {again and again.stores[0].failed}")
        self.tell(len(tried), len(cases), struck, wrong)
        self.assertGreater(struck, 0.8 * len(tried), "the harness strikes where it aims")
        self.assertGreater(len(cases), 800)

    def test_power_cut_between_any_two_calls(self):
        _, calls = self.cases()
        wrong, cuts = [], [Fault("any", nth, POWER, ever_after=True) for nth in range(0, calls, 1 if LONG else 4)]
        for n, fault in enumerate(cuts):
            drive = self.drive("drive")
            with faulty(fault) as system:
                self.run_to(drive)
            system.lose_what_was_not_synced(drive, random.Random(n))
            wrong += [f"{fault}: {words}" for words in (*self.left_behind(drive), *self.not_whole(drive))]
            again = self.run_to(drive)
            wrong += [f"{fault}, resumed: {words}" for words in self.wrong_claims(again, drive)]
            if not again or not again.verified:
                wrong.append(f"{fault}, resumed: it does not complete: {again and again.stores[0].failed}")
        self.tell(len(cuts), calls, len(cuts), wrong)

    def test_a_header_that_others_cannot_read_is_found_before_the_package_is_sealed(self):
        """Ours finds files by the index, and would never miss it."""
        for at in (0, 148, 512, 4096 - 512, 4096 - 512 + 124):
            made = self.drive("drive") / "A001.tar"
            with made.open("w+b") as file:
                writer = PackageWriter(file.fileno(), "A001")
                for name in ("a", "b"):
                    region = writer.begin(name, 5000, None)
                    writer.write(region, name.encode() * 5000)
                    writer.end(region, 10**18)
                    writer.add([region])
                os.pwrite(file.fileno(), b"\xff", region.header + at)
                with self.assertRaisesRegex(OSError, "headers were read back otherwise"):
                    writer.seal({})
                writer.close()
