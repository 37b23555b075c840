from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ruggedraft.core.errors import ActRefused
from ruggedraft.standins import hub


class Command(BaseCommand):
    help = "Put stand-in cards into the stand-in hub's slots, take them out, or list them."

    def add_arguments(self, parser: CommandParser) -> None:
        words = parser.add_subparsers(dest="what", required=True)
        words.add_parser("list", help="every card, and where it is")
        put = words.add_parser("insert", help="put a card, by serial or label, into a slot")
        put.add_argument("card")
        put.add_argument("slot", choices=hub.SLOTS)
        take = words.add_parser("remove", help="pull whatever is in a slot")
        take.add_argument("slot", choices=hub.SLOTS)

    def handle(self, *args: Any, what: str, **options: Any) -> None:
        try:
            if what == "insert":
                hub.insert(options["card"], options["slot"])
            elif what == "remove":
                hub.remove(options["slot"])
        except ActRefused as error:
            raise CommandError(error.sentence) from error
        for card in hub.cards():
            self.stdout.write(f"{card.label:10} {card.serial:10} {card.kind:10} {card.slot or 'on the table'}")
