"""The ledger's database itself, on the server that the settings name."""

import re
from pathlib import Path
from typing import Any
from urllib.parse import quote

import psycopg
from django.conf import settings
from django.core.management import call_command
from django.db import connection, connections
from django.db.migrations.recorder import MigrationRecorder

from ruggedraft.bootstrap import postgres

NEW_LEDGER = Path(__file__).with_name("new_ledger.sql")
"""What makes an empty ledger in one step, as all of its migrations would. `./raft manage new_ledger` writes it."""


def make_database() -> None:
    """Make it if it is not there."""
    name = settings.DATABASES["default"]["NAME"]
    with _server() as server:
        if not server.execute("SELECT 1 FROM pg_database WHERE datname = %s", [name]).fetchone():
            server.execute(f'CREATE DATABASE "{name}"')
    connections.close_all()


def make_tables() -> None:
    """Those of an empty ledger, all of them or none, where there is no table yet. What came since, `migrate` adds.

    The migrations say the same, and take a minute to say it.
    """
    if connection.introspection.table_names():
        return
    with _server(connection.settings_dict["NAME"]) as ledger, ledger.transaction():
        ledger.execute("SET LOCAL check_function_bodies = false")  # one may name what is made after it
        ledger.execute(NEW_LEDGER.read_bytes())


def by_its_migrations(name: str) -> str:
    """What makes an empty ledger, as each of its migrations leaves it: they are run, in a database made for this.

    Two releases of pg_dump give the same.
    """
    usual = connection.settings_dict["NAME"]
    connection.close()
    with _server() as server:
        server.execute(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)')
        server.execute(f'CREATE DATABASE "{name}"')
        connection.settings_dict["NAME"] = name
        try:
            call_command("migrate", "--one-by-one", verbosity=0)
            return _statements(postgres.tables(_address()))
        finally:
            connection.close()
            connection.settings_dict["NAME"] = usual
            server.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


def _address() -> str:
    """Of the database that we are connected to, as PostgreSQL's programs take it."""
    words = connection.settings_dict
    who = f"{quote(words['USER'])}:{quote(words['PASSWORD'])}"
    return f"postgresql://{who}@{words['HOST']}:{words['PORT']}/{words['NAME']}"


def _statements(dumped: str) -> str:
    begun, kept = False, []
    for line in dumped.splitlines():
        begun = begun or line.startswith("CREATE ")
        if begun and line and not line.startswith(("--", "\\", "SET default_table")):
            kept.append(line)
    applied = sorted(MigrationRecorder(connection).applied_migrations())
    rows = ",\n".join(f"('{app}', '{name}', now())" for app, name in applied)
    body = re.sub(r";\n(?=CREATE (TABLE|FUNCTION|TYPE))", ";\n\n", "\n".join(kept))
    return f"{body}\n\nINSERT INTO public.django_migrations (app, name, applied) VALUES\n{rows};\n"


def drop_database() -> None:
    connections.close_all()
    with _server() as server:
        server.execute(f'DROP DATABASE IF EXISTS "{settings.DATABASES["default"]["NAME"]}" WITH (FORCE)')


def _server(database: str = "postgres") -> psycopg.Connection:
    words: dict[str, Any] = settings.DATABASES["default"]
    return psycopg.connect(
        dbname=database, user=words["USER"], password=words["PASSWORD"], host=words["HOST"], port=words["PORT"],
        autocommit=True,
    )  # fmt: skip
