"""A ledger's backup holds all of it, row by row; what is no backup, or damaged, makes nothing."""

import tarfile
from pathlib import Path
from unittest.mock import patch

import psycopg
from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.bootstrap import app, backups, postgres
from ruggedraft.bootstrap.problems import CannotGoOn

from .world import World

_ALL = """
SELECT md5(coalesce(string_agg(row::text, chr(10) ORDER BY row::text), '')) FROM (SELECT t AS row FROM {} t) AS rows
"""


class Backup(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        self.sign()
        words = connection.settings_dict
        self.server = f"postgresql://{words['USER']}:{words['PASSWORD']}@{words['HOST']}:{words['PORT']}/postgres"
        self.url = postgres.of_database(self.server, words["NAME"])
        self.file = self.base / "ledger.raft"
        key = patch.object(app, "secret_key", return_value="a key")
        key.start()
        self.addCleanup(key.stop)

    def rows_of(self, url: str) -> dict[str, str]:
        """A digest of each table's rows, whatever their order."""
        with psycopg.connect(url) as database:
            tables = database.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
            return {table: database.execute(_ALL.format(table)).fetchone()[0] for (table,) in tables}

    def test_what_is_made_again_from_it_has_every_row(self):
        before = self.rows_of(self.url)
        backups.write_backup(self.url, self.file)
        dump, key = backups._taken_out(self.file, self.base)
        again = f"again_{connection.settings_dict['NAME']}"
        postgres.load(self.server, again, dump)
        self.addCleanup(postgres.drop, self.server, again)
        self.assertEqual(self.rows_of(postgres.of_database(self.server, again)), before)
        self.assertGreater(len(before), 40)
        self.assertEqual(key, "a key")

    def test_nothing_is_overwritten(self):
        self.file.write_text("somebody's")
        with self.assertRaisesRegex(CannotGoOn, "nothing was overwritten"):
            backups.write_backup(self.url, self.file)
        self.assertEqual(self.file.read_text(), "somebody's")
        self.assertEqual([one.name for one in self.base.glob(".raft-backup-*")], [])

    def test_what_is_damaged_cut_short_or_something_else_is_refused(self):
        backups.write_backup(self.url, self.file)
        whole = self.file.read_bytes()
        damaged = bytearray(whole)
        damaged[len(whole) // 2] ^= 1
        for content in (bytes(damaged), whole[: len(whole) // 2], b"", b"no tar at all"):
            self.file.write_bytes(content)
            with self.subTest(len(content)), self.assertRaises(CannotGoOn):
                backups._taken_out(self.file, self.base)
        with tarfile.open(self.file, "w"):
            pass
        with self.assertRaises(CannotGoOn):
            backups._taken_out(self.file, self.base)
        with self.assertRaises(CannotGoOn):
            backups._taken_out(Path(self.base, "not there"), self.base)
