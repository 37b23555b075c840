"""A ledger that an earlier version left is backed up, brought up to date, and says the same as before."""

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest.mock import patch

import psycopg
from django.conf import settings
from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.bootstrap import app, backups, places, postgres
from ruggedraft.bootstrap.ledgers import Ledger
from ruggedraft.clearing.models import Clearance

SAVED = sorted((Path(__file__).parents[1] / "saved").glob("*.dump"))
_KEPT = ("journal_journalentry", "rolls_rollfile", "rolls_reading", "clearing_clearance", "clearing_signature",
         "rolls_copy", "crew_person")  # fmt: skip
_VERDICTS = """
from ruggedraft.productions.models import Production
from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
with clock.at(JournalEntry.objects.latest("id").at):
    for case in cases(active_cards(), places_of_all()):
        print(case.card.label, case.standing.value, sep='|')
"""

_KIND = "from ruggedraft.intake.fingerprints import fingerprint_kind; print(fingerprint_kind().value)"


class Upgrade(TransactionTestCase):
    def setUp(self):
        self.base = Path(tempfile.mkdtemp(prefix="raft-upgrade-"))
        self.addCleanup(shutil.rmtree, self.base, ignore_errors=True)
        words = connection.settings_dict
        self.server = f"postgresql://{words['USER']}:{words['PASSWORD']}@{words['HOST']}:{words['PORT']}/postgres"
        self.ledger = Ledger("a saved ledger", f"saved_{words['NAME']}", 8640, demo=False)
        self.url = postgres.of_database(self.server, self.ledger.database)
        for what in (patch.object(places, "VAR", self.base), patch.dict(os.environ, {"RAFT_TESTING": ""})):
            what.start()
            self.addCleanup(what.stop)
        self.owner = app.environment(self.server, self.ledger.database, owner=True) | {
            "RAFT_APP_ROLE": f"{self.ledger.database[:50]}_app:only-for-tests"
        }

    def rows(self) -> dict[str, int]:
        with psycopg.connect(self.url) as database:
            return {table: database.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in _KEPT}  # noqa: S608

    def ours(self, *words: str) -> str:
        command = [sys.executable, str(Path(settings.ROOT) / "manage.py"), *words]
        done = subprocess.run(command, env=self.owner, capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        return done.stdout

    def test_every_saved_ledger_says_the_same_afterwards(self):
        self.assertTrue(SAVED)
        for dump in SAVED:
            with self.subTest(dump.name):
                postgres.load(self.server, self.ledger.database, dump)
                self.addCleanup(self.drop)
                before = self.rows()
                backups.before_upgrade(self.server, self.ledger, self.owner)
                made = list((self.base / "backups").glob("before-upgrade-*.raft"))
                self.assertEqual(len(made), 1, "it was backed up before anything was changed")
                self.ours("prepare")
                self.assertEqual(self.rows(), before, "nothing was added and nothing lost")
                self.assertIn("follows from the one before it", self.ours("verify_journal"))
                said = dict(line.split("|") for line in self.ours("shell", "-v", "0", "-c", _VERDICTS).splitlines())
                self.assertEqual(said, {"A-01": "cleared", "A-02": "ready to sign"})
                self.assertEqual(self.ours("shell", "-v", "0", "-c", _KIND).strip(), "blake2b", "as it began")
                backups.before_upgrade(self.server, self.ledger, self.owner)
                made = list((self.base / "backups").glob("before-upgrade-*.raft"))
                self.assertEqual(len(made), 1, "what is up to date is not backed up again")
        self.assertEqual(Clearance.objects.count(), 0, "the tests' own ledger was not touched")

    def drop(self) -> None:
        postgres.drop(self.server, self.ledger.database)
