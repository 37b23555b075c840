"""A ledger that lacks something, or whose database fails: a sentence, and nothing lost."""

import shutil
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase as PlainTestCase
from unittest.mock import patch

from django.db import OperationalError
from django.test import TransactionTestCase
from psycopg.errors import AdminShutdown, DiskFull

from ruggedraft.bootstrap import places, tls
from ruggedraft.bootstrap.problems import CannotGoOn
from ruggedraft.journal.models import JournalEntry

from .world import World


class BadLedgers(World, TransactionTestCase):
    def test_without_a_rule_nothing_is_judged_and_a_sentence_says_so(self):
        self.offload()
        self.production.rule.delete()
        for path in ("bench", "clearing", "waterline", "tally", "setup"):
            answer = self.client_for(self.wren).get(f"/api/productions/heron/{path}", headers={"host": "localhost"})
            with self.subTest(path):
                self.assertEqual(answer.status_code, 409)
                self.assertIn("has no rule", answer.json()["title"])

    def test_a_production_that_is_not_there_is_said_not_to_be(self):
        answer = self.client_for(self.wren).get("/api/productions/bittern/bench", headers={"host": "localhost"})
        self.assertEqual(answer.status_code, 404)
        self.assertIn("no production 'bittern'", answer.json()["title"])

    def test_a_database_whose_disk_is_full_or_that_went_away_changes_nothing_and_says_so(self):
        before = JournalEntry.objects.count()
        for cause, words in ((DiskFull(), "is full: make room"), (AdminShutdown(), "does not answer")):
            error = OperationalError("no")
            error.__cause__ = cause
            with self.subTest(words), patch("ruggedraft.journal.writing.JournalEntry.save", side_effect=error):
                answer = self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"})
                self.assertEqual(answer.status_code, 503)
                self.assertIn(words, answer.json()["title"])
        self.assertEqual(JournalEntry.objects.count(), before)
        self.assertFalse(self.production.rolls.exists())


class Certificates(PlainTestCase):
    def setUp(self):
        self.base = Path(tempfile.mkdtemp(prefix="raft-tls-"))
        self.addCleanup(shutil.rmtree, self.base)
        moved = patch.object(places, "VAR", self.base)
        moved.start()
        self.addCleanup(moved.stop)

    def expired(self, file: Path, key: Path) -> None:
        words = ["-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-subj", "/CN=x"]
        request = self.base / "request.pem"
        subprocess.run(["openssl", "req", *words, "-keyout", key, "-out", request], check=True, capture_output=True)
        signed = ["openssl", "x509", "-req", "-in", request, "-key", key, "-days", "-1", "-out", file]
        subprocess.run(signed, check=True, capture_output=True)

    def test_one_of_somebodys_own_that_expired_is_refused_with_a_sentence(self):
        file, key = self.base / "own.pem", self.base / "own.key"
        self.expired(file, key)
        with self.assertRaisesRegex(CannotGoOn, "has expired"):
            tls.given_certificate(file, key)

    def test_one_of_ours_that_expired_is_made_again(self):
        first = tls.own_certificate(["localhost"])
        self.assertEqual(tls.own_certificate(["localhost"]).fingerprint, first.fingerprint)
        self.expired(first.file, first.key)
        again = tls.own_certificate(["localhost"])
        self.assertNotEqual(again.fingerprint, first.fingerprint)
        tls.given_certificate(again.file, again.key)
