"""What the application may do in the ledger's database: it owns nothing, and cannot rewrite what was noted.

Migrations run as the owner. Web server and stations connect as a role that may add evidence and acts and read them, and
can neither change nor delete nor empty them. Whoever takes over the application cannot make the past look different.
"""

from django.apps import apps
from django.db import connection
from psycopg import sql

_APPEND_ONLY = (
    "journal.JournalEntry", "rolls.Take", "rolls.LeftBehind", "rolls.Waiver", "rolls.Reading", "rolls.ReadingResult",
    "clearing.Clearance", "clearing.Signature", "clearing.HandedBack", "intake.GoneAnswer", "stores.DeviceStatement",
    "productions.RuleChange", "offloads.PullSeen",
)  # fmt: skip


def append_only_tables() -> list[str]:
    tables = [apps.get_model(name)._meta.db_table for name in _APPEND_ONLY]
    return [*tables, apps.get_model("clearing.Clearance").rolls.through._meta.db_table]


def ensure_role(name: str, password: str) -> None:
    """Make the application's role, or give it this password. As the owner or another who may."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", [name])
        verb = "ALTER" if cursor.fetchone() else "CREATE"
        words = "ROLE {} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOBYPASSRLS NOREPLICATION PASSWORD {}"
        cursor.execute(_said(f"{verb} {words}", sql.Identifier(name), sql.Literal(password)))


def grant_to(name: str) -> None:
    """Let a role do the application's work in this database, and no more. After every migration."""
    role = sql.Identifier(name)
    with connection.cursor() as cursor:
        for words in (
            "REVOKE ALL ON ALL TABLES IN SCHEMA public FROM {}",
            "GRANT USAGE ON SCHEMA public TO {}",
            "GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {}",
            "GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {}",
            "REVOKE INSERT, UPDATE, DELETE ON django_migrations FROM {}",
        ):
            cursor.execute(_said(words, role))
        for table in append_only_tables():
            cursor.execute(_said("REVOKE UPDATE, DELETE ON {} FROM {}", sql.Identifier(table), role))


def _said(words: str, *parts: sql.Composable) -> str:
    return sql.SQL(words).format(*parts).as_string(connection.connection)
