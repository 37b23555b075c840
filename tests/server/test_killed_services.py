"""Each service is killed in the middle of a run, the database too: it comes back, and nothing half-done looks done."""

import os
import signal
import subprocess
from collections.abc import Callable
from pathlib import Path
from unittest import skipUnless

from .machine import Disk, can_pretend
from .raft_case import RaftCase

FILES = 5000


@skipUnless(can_pretend(), "needs root, loop devices and namespaces")
class KilledServices(RaftCase):
    def test_each_is_started_again_and_the_run_ends_with_copies_that_are_whole(self):
        self.drives = [self.cart.disk(name, "ext4", 160, serial=f"{name}-1") for name in ("Brick", "Shuttle")]
        for drive in self.drives:
            drive.mount()
        self.begin(self.raft("start", self.cart, "start", "--own", "--listen", self.cart.address), self.drives)
        services = {"station": lambda: self.pid("station cart"), "database": self.postmaster,
                    "server": lambda: self.pid("uvicorn")}  # fmt: skip
        for n, (name, pid) in enumerate(services.items(), 1):
            with self.subTest(name):
                self.kill_during_run(f"A-0{n}", self.full_card(n), name, pid)

    def full_card(self, n: int) -> Disk:
        card = self.cart.disk(f"Card{n}", "ext4", 64, serial=f"READER-{n}")
        many = f"head -c {FILES * 2500} /dev/urandom | split -a 4 -b 2500 - DCIM/"
        self.cart.run("sh", "-c", f"cd {card.mount()} && mkdir DCIM && {many}")
        card.unmount()
        card.put_into_reader()
        card.mount()
        return card

    def kill_during_run(self, label: str, card: Disk, name: str, pid: Callable[[], int]) -> None:
        self.offload(self.introduce(label, "cart"))
        count, victim = int(label[-1]), pid()
        while len(self.begun()) < count:
            pass
        os.kill(victim, signal.SIGKILL)
        self.assertLess(len(self.proven()), 2 * count, "it was in the middle")
        self.until(self.is_answering, f"it answers after the {name} was killed")
        run = self.until(lambda: self.is_answering() and self.finished(label), "it ends by itself")
        self.assertEqual({store["state"] for store in run["stores"]}, {"verified"}, run)
        for drive in self.drives:
            self.outside_check(self.cart, drive)
            copy = self.cart.run("sh", "-c", f"ls -d {drive.place}/*/*/*{run['tag']}*/DCIM")
            self.assertEqual(self.cart.run("diff", "-r", f"{card.place}/DCIM", copy), "")
        card.unmount()

    def begun(self) -> list[Path]:
        """Folders of rolls on the first drive that a file is in. Not gone through: that would take too long."""
        folders = self.seen_from_here(self.drives[0]).glob("*/*/*/DCIM")
        return [folder for folder in folders if any(os.scandir(folder))]

    def proven(self) -> list[Path]:
        """The lists that are written when a copy is whole, on both."""
        return [found for drive in self.drives for found in self.seen_from_here(drive).glob("**/*.xxh128")]

    def seen_from_here(self, drive: Disk) -> Path:
        return Path(f"/proc/{self.cart.pid}/root{drive.place}")

    def is_answering(self) -> bool:
        try:
            self.client.ask("GET", f"{self.here}/bench")
            return True
        except (AssertionError, OSError):
            return False

    def pid(self, words: str) -> int:
        start = self.running["start"].pid
        children = subprocess.run(["pgrep", "-P", str(start), "-f", words], capture_output=True, text=True, check=True)
        return int(children.stdout.split()[0])

    def postmaster(self) -> int:
        data = Path(self.base, f"var-{self.cart.address}", "postgres", "data")
        return int((data / "postmaster.pid").read_text().split()[0])
