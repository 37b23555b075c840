from typing import Any

from django.core.management.base import BaseCommand

from ruggedraft.crew.queries import somebody_is_there

NOT_BEGUN = 3


class Command(BaseCommand):
    help = f"Whether somebody has begun this ledger: ends with 0, or with {NOT_BEGUN} where nobody can sign in yet."

    def handle(self, *args: Any, **options: Any) -> None:
        if not somebody_is_there():
            raise SystemExit(NOT_BEGUN)
