import os
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone

from ruggedraft.project.database import make_database
from ruggedraft.project.roles import ensure_role, grant_to, let_stations_in


class Command(BaseCommand):
    help = (
        "As the database's owner: bring the ledger up to date, making it if it is not there, and let the role named in "
        "RAFT_APP_ROLE (NAME or NAME:PASSWORD) work with it. With --demo, fill an empty one."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo", action="store_true", help="load the demo if it is not there yet")

    def handle(self, *args: Any, demo: bool, **options: Any) -> None:
        make_database()
        call_command("migrate", verbosity=0)
        role = os.environ.get("RAFT_APP_ROLE", "")
        name, _, password = role.partition(":")
        if password:
            ensure_role(name, password)
        if name:
            grant_to(name)
            let_stations_in(name)
        if demo:
            _load_demo(self.stderr.write)


def _load_demo(say: Callable[[str], object]) -> None:
    """The demo is there or it is not: a loading that was interrupted starts over."""
    from ruggedraft.crew.models import Person
    from ruggedraft.standins import demo, hub

    done = Path(settings.VAR) / "standins" / "demo-is-loaded"
    if done.exists() and Person.objects.exists():
        return
    say("raft: making the demo: cards with real media, and four days of work")
    demo.empty_ledger()
    with transaction.atomic():
        demo.set_up_demo(timezone.now() - timedelta(hours=3))
    hub.home().joinpath("demo-is-loaded").write_text("")
