import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.acts.invite import link_for_password
from ruggedraft.kit.models import Station
from ruggedraft.offloads.acts.rebuild_ledger import rebuild_ledger
from ruggedraft.rolls.models import Copy
from ruggedraft.stores.folders import MARKER
from ruggedraft.stores.volumes import volumes


class Command(BaseCommand):
    help = (
        "Make an empty ledger again from the records beside the copies on these stores; without one named, on all that "
        "are plugged in. Prints what came of it as one JSON object."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--name", required=True, help="of the supervisor, who gets a link to choose a password by")
        parser.add_argument("--station", default="cart", help="of this machine; it checks every copy when it starts")
        parser.add_argument("folders", nargs="*", type=Path)

    def handle(self, *args: Any, name: str, station: str, folders: list[Path], **options: Any) -> None:
        where = [folder.absolute() for folder in folders] or _plugged_in()
        try:
            person, done = rebuild_ledger(name, where)
            secret = link_for_password(person, person)
            here, _ = Station.objects.get_or_create(name=station)
            for copy in Copy.objects.filter(pk__in=done.copies).order_by("pk"):
                ask_check(person, copy, here)
        except ActRefused as refused:
            raise CommandError(refused.sentence) from refused
        self.stdout.write(json.dumps({**done.__dict__, "secret": secret}))


def _plugged_in() -> list[Path]:
    return [Path(volume.path) for volume in volumes() if Path(volume.path, MARKER).is_file()]
