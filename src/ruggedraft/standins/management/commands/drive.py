from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ruggedraft.core.errors import ActRefused
from ruggedraft.standins import hub
from ruggedraft.standins.api import happen
from ruggedraft.standins.drives import drives


class Command(BaseCommand):
    help = "Pull or plug in a stand-in drive, fill it, slow it down, let a bit of it rot, clone it; or list them."

    def add_arguments(self, parser: CommandParser) -> None:
        words = parser.add_subparsers(dest="what", required=True)
        words.add_parser("list", help="every drive, and how it is")
        for what in ("plug", "unplug", "fill", "empty", "slow", "quicken", "rot", "clone"):
            words.add_parser(what).add_argument("name")

    def handle(self, *args: Any, what: str, **options: Any) -> None:
        try:
            said = happen(what, options["name"]) if what != "list" else ""
        except ActRefused as error:
            raise CommandError(error.sentence) from error
        if said:
            self.stdout.write(said)
        for one in drives(hub.home()):
            how = (("plugged in" if one.plugged else "unplugged", True), ("full", one.full), ("slow", one.slow))
            self.stdout.write(f"{one.name:24} {', '.join(word for word, holds in how if holds)}")
