from typing import Any

from django.core.management.base import BaseCommand
from django.db import connection

from ruggedraft.bootstrap import postgres
from ruggedraft.project.database import NEW_LEDGER, address, statements


class Command(BaseCommand):
    help = "Write what an empty ledger is made of in one step, as its migrations leave it. After every new migration."

    def handle(self, *args: Any, **options: Any) -> None:
        usual = connection.settings_dict["NAME"]
        connection.creation.create_test_db(verbosity=0, autoclobber=True, serialize=False)
        try:
            NEW_LEDGER.write_text(statements(postgres.tables(address())))
        finally:
            connection.creation.destroy_test_db(usual, verbosity=0)
