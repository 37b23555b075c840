from typing import Any

from django.core.management.base import BaseCommand

from ruggedraft.project.database import NEW_LEDGER, by_its_migrations


class Command(BaseCommand):
    help = "Write what an empty ledger is made of in one step, as its migrations leave it. After every new migration."

    def handle(self, *args: Any, **options: Any) -> None:
        NEW_LEDGER.write_text(by_its_migrations("raft_new_ledger"))
