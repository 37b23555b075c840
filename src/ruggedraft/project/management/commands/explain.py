from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ruggedraft.clearing.cases import active_cards
from ruggedraft.clearing.explaining import explain


class Command(BaseCommand):
    help = (
        "Say of a card, by its label, where it stands and why: its rule, copies, evidence, and what speaks against it."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("card")

    def handle(self, *args: Any, card: str, **options: Any) -> None:
        found = active_cards().filter(label__iexact=card).first()
        if found is None:
            raise CommandError(f"There is no card {card} of a camera in this ledger.")
        self.stdout.write(explain(found))
