"""An empty ledger that is made in one step is the one that its migrations make."""

from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.project.database import NEW_LEDGER, by_its_migrations


class NewLedger(TransactionTestCase):
    def test_it_is_what_all_of_its_migrations_make(self):
        """After a new migration: ./raft manage new_ledger"""
        made = by_its_migrations(f"new_{connection.settings_dict['NAME']}")
        self.assertEqual(made.splitlines(), NEW_LEDGER.read_text().splitlines())
