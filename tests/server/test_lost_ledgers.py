"""The computer's disk is lost: the ledger comes back from a backup, or from the records on the drives, by command."""

import re
import shutil
from pathlib import Path
from unittest import skipUnless

from .machine import can_pretend
from .raft_case import PASSWORD, Client, RaftCase


@skipUnless(can_pretend(), "needs root, loop devices and namespaces")
class LostLedgers(RaftCase):
    def command(self, *words: str) -> str:
        """Run a command to its end, and what it said."""
        said = self.raft(words[0], self.cart, *words)
        process = self.running.pop(words[0])
        self.assertEqual(process.wait(120), 0, said.read_text())
        return said.read_text()

    def start(self) -> Path:
        return self.raft("start", self.cart, "start", "--own", "--listen", self.cart.address)

    def lose_the_database(self) -> None:
        shutil.rmtree(self.base / f"var-{self.cart.address}" / "postgres")

    def test_it_comes_back_from_a_backup_and_from_the_records(self):
        drives = [self.cart.disk(name, "ext4", 64, serial=f"{name}-1") for name in ("Brick", "Shuttle")]
        for drive in drives:
            drive.mount()
        card = self.cart.disk("Card", "ext4", 32, serial="READER-1")
        self.fill(self.cart, card, "HERN", 3)
        card.put_into_reader()
        card.mount()
        self.begin(self.start(), drives)
        self.offload(self.introduce("A-01", "cart"))
        self.until(lambda: self.finished("A-01"), "it is offloaded")
        backup = self.base / "ledger.raft"
        self.assertIn("holds all of it", self.command("backup", str(backup)))
        self.end("start")
        self.lose_the_database()
        self.assertIn("is as it was when", self.command("restore", str(backup)))
        self.comes_back_from_the_backup()
        self.end("start")
        self.lose_the_database()
        told = self.command("rebuild", "--name", "Wren", *(str(drive.place) for drive in drives))
        self.assertIn("1 rolls with 2 copies on 2 stores", told)
        self.comes_back_from_the_records(re.search(r"/join#(\S+)", told)[1])

    def answering(self) -> Client | None:
        try:
            return Client(self.cart.address, 8640)
        except (AssertionError, OSError):
            return None

    def comes_back_from_the_backup(self) -> None:
        self.start()
        self.client = self.until(self.answering, "it is served")
        self.client.ask("POST", "/api/session", {"username": "Wren", "password": PASSWORD})
        run = self.until(lambda: self.slot("A-01"), "the card hangs there")["offload"]
        self.assertEqual({one["state"] for one in run["stores"]} if run else {"verified"}, {"verified"})
        self.assertEqual(self.standing(), "ready to sign")

    def comes_back_from_the_records(self, secret: str) -> None:
        self.start()
        self.client = self.until(self.answering, "it is served")
        self.client.ask("POST", "/api/session/link", {"secret": secret, "name": "", "password": PASSWORD})
        self.until(lambda: self.standing() == "ready to sign", "both copies were read again")
        told = self.client.ask("GET", f"{self.here}/log")["entries"]
        self.assertTrue(any("made again from 2 records" in one["sentence"] for one in told))

    def standing(self) -> str:
        cards = self.client.ask("GET", f"{self.here}/clearing")["cards"]
        return next((one["standing"] for one in cards if one["label"] == "A-01"), "")
