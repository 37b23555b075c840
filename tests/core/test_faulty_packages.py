"""Every call that a store of packages makes goes wrong in every way; then claims are compared with what others read."""

import os
import tarfile
from collections import Counter
from pathlib import Path

from ruggedraft.core.errors import SourceError, StoreError
from ruggedraft.core.packages.form import UNFINISHED
from ruggedraft.core.packages.writing import PackageWriter
from ruggedraft.core.sources import list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.packages import PackageStore
from ruggedraft.core.transfer import Target, TransferReport, transfer

from .faults import Fault, every_fault
from .test_faults import XXH, FaultCase


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

    def cases(self, calls: Counter) -> list[Fault]:
        """What rots after it was read back is for the next check to find, and no wrong claim."""
        return [fault for fault in every_fault(calls) if fault.how != "rotten afterwards"]

    def test_each_fault_at_each_call(self):
        self.try_every_fault(lambda drive: None)

    def test_power_cut_between_any_two_calls(self):
        self.cut_power_everywhere()

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
