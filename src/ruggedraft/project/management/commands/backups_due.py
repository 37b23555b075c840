import json
from typing import Any

from django.core.management.base import BaseCommand

from ruggedraft.stores.backups import due


class Command(BaseCommand):
    help = "Where the ledger should be backed up to now: a JSON list of [store, folder]."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(json.dumps([[store.name, str(folder)] for store, folder in due()]))
