from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ruggedraft.stores.backups import note_backup
from ruggedraft.stores.queries import store_named


class Command(BaseCommand):
    help = "Note that the ledger was backed up to a store, as this file."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("store")
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, store: str, file: Path, **options: Any) -> None:
        note_backup(store_named(store), file)
