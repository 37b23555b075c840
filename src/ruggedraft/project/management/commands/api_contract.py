import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser


class Command(BaseCommand):
    help = "Write web/openapi.json, what the web application's types are generated from; --check only compares."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true")

    def handle(self, *args: Any, check: bool, **options: Any) -> None:
        from ruggedraft.api import api

        said = json.dumps(api.get_openapi_schema(), indent=2, sort_keys=True) + "\n"
        path = Path(settings.ROOT) / "web" / "openapi.json"
        if not check:
            path.write_text(said)
        elif path.read_text() != said:
            raise CommandError("web/openapi.json is not what the API says: run ./raft manage api_contract.")
