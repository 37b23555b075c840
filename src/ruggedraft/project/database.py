"""The ledger's database itself, on the server that the settings name."""

from typing import Any

import psycopg
from django.conf import settings
from django.db import connections


def make_database() -> None:
    """Make it if it is not there."""
    name = settings.DATABASES["default"]["NAME"]
    with _server() as server:
        if not server.execute("SELECT 1 FROM pg_database WHERE datname = %s", [name]).fetchone():
            server.execute(f'CREATE DATABASE "{name}"')
    connections.close_all()


def drop_database() -> None:
    connections.close_all()
    with _server() as server:
        server.execute(f'DROP DATABASE IF EXISTS "{settings.DATABASES["default"]["NAME"]}" WITH (FORCE)')


def _server() -> psycopg.Connection:
    words: dict[str, Any] = settings.DATABASES["default"]
    return psycopg.connect(
        dbname="postgres", user=words["USER"], password=words["PASSWORD"], host=words["HOST"], port=words["PORT"],
        autocommit=True,
    )  # fmt: skip
