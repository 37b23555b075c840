"""An empty ledger that is made in one step is the one that its migrations make."""

import psycopg
from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.bootstrap import postgres
from ruggedraft.project.database import NEW_LEDGER, address, statements


class NewLedger(TransactionTestCase):
    def setUp(self):
        self.name = f"new_{connection.settings_dict['NAME']}"
        with connection.cursor() as here:  # what an earlier test let stations in by is of no migration
            for function in ("raft_let_station_in", "raft_turn_station_away"):
                here.execute(f"DROP FUNCTION IF EXISTS {function}")
        self.ask(f'DROP DATABASE IF EXISTS "{self.name}"', f'CREATE DATABASE "{self.name}"')
        self.addCleanup(self.ask, f'DROP DATABASE "{self.name}" WITH (FORCE)')

    def ask(self, *words: str) -> None:
        with psycopg.connect(address("postgres"), autocommit=True) as server:
            for one in words:
                server.execute(one)

    def test_it_is_what_all_of_its_migrations_make(self):
        """After a new migration: ./raft manage new_ledger"""
        with psycopg.connect(address(self.name)) as ledger:
            ledger.execute("SET LOCAL check_function_bodies = false")
            ledger.execute(NEW_LEDGER.read_bytes())
        made, migrated = (statements(postgres.tables(address(name))).splitlines() for name in (self.name, ""))
        self.assertEqual(made, migrated)
