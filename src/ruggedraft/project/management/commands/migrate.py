from typing import Any

from django.core.management.base import CommandParser
from django.core.management.commands import migrate

from ruggedraft.project.database import make_tables


class Command(migrate.Command):
    """An empty ledger is made in one step, and what came since is added."""

    def add_arguments(self, parser: CommandParser) -> None:
        super().add_arguments(parser)
        parser.add_argument("--one-by-one", action="store_true", help="an empty ledger too: each migration by itself")

    def handle(self, *args: Any, one_by_one: bool, **options: Any) -> Any:
        only_part = options["app_label"] or options["check_unapplied"] or options["plan"] or options["fake"]
        if not one_by_one and not only_part:
            make_tables()
        return super().handle(*args, **options)
