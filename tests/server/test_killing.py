"""The real worker killed at any moment of a real run, and what the ledger says then."""

import os
import random
import time
from pathlib import Path

from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.core.sources import from_ledger
from ruggedraft.intake.watching import look
from ruggedraft.rolls.models import Copy, Reading
from ruggedraft.rolls.queries import files_held
from ruggedraft.standins import card_maker, hub

from .processes import PATIENCE, Processes
from .world import SHOT

KILLS = 50 if os.environ.get("RAFT_LONG") else 3
CUTS = 10 if os.environ.get("RAFT_LONG") else 2


class Killing(Processes, TransactionTestCase):
    reader_rate = 2_000_000

    def setUp(self):
        super().setUp()
        self.blank_card()
        for n in range(6):
            content = random.Random(n).randbytes(250_000)
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/AAAA{n:04d}.JPG", content, SHOT)
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/LONG0001.JPG", random.Random(9).randbytes(3_000_001), SHOT)
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def test_killed_at_any_moment_nothing_wrong_is_claimed_and_the_next_worker_finishes(self):
        chance = random.Random(11)
        for n in range(KILLS):
            with self.subTest(kill=n):
                self.new_content(n)
                offload = self.begin()
                self.start_station()
                time.sleep(chance.uniform(0.8, 4.0))
                self.kill_station()
                self.assert_no_wrong_claim()
                self.start_station()
                self.wait_for(offload)
                self.kill_station()
                self.assert_no_wrong_claim()
                self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(Reading.objects.count(), 2 * KILLS)

    def test_a_database_that_goes_away_in_the_middle_costs_time_and_nothing_else(self):
        """Every connection of the station is ended by the server, as when the server itself is killed."""
        chance = random.Random(12)
        for n in range(CUTS):
            with self.subTest(cut=n):
                self.new_content(n)
                offload = self.begin()
                self.start_station()
                time.sleep(chance.uniform(0.8, 4.0))
                with connection.cursor() as cursor:
                    cursor.execute(
                        "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid != pg_backend_pid()"
                        " AND datname = current_database()"
                    )
                self.assert_no_wrong_claim()
                self.wait_for_with_restarts(offload)
                self.kill_station()
                self.assert_no_wrong_claim()
                if offload.findings.exists():  # it was broken off: the next one completes
                    offload = self.begin()
                    self.start_station()
                    self.wait_for(offload)
                    self.kill_station()
                self.assertEqual(self.standing()["standing"], "ready to sign")

    def wait_for_with_restarts(self, offload) -> None:
        """What `./raft start` does: a station that stopped is started again."""
        deadline = time.monotonic() + 2 * PATIENCE
        while not type(offload).objects.exclude(finished_at=None).filter(pk=offload.pk).exists():
            self.assertLess(time.monotonic(), deadline, "the run was not taken up again")
            if self.processes["station"].poll() is not None:
                self.start_station()
            time.sleep(0.2)

    def new_content(self, n: int) -> None:
        """More files on the same card: each round goes on with its roll."""
        if n:
            content = random.Random(100 + n).randbytes(400_000)
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/BBBB{n:04d}.JPG", content, SHOT)
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def assert_no_wrong_claim(self) -> None:
        """Every file that a copy is said to hold is there, byte for byte; nothing under a final name is not whole."""
        for copy in Copy.objects.select_related("store", "roll"):
            folder = Path(copy.store.path) / copy.folder
            for file in files_held(copy):
                path = from_ledger(file.path)
                self.assertEqual((folder / path).read_bytes(), (self.card_folder / path).read_bytes(), path)
            for file in folder.rglob("*.JPG"):
                original = self.card_folder / file.relative_to(folder)
                self.assertEqual(file.read_bytes(), original.read_bytes(), f"{file.name} is there, and not whole")
