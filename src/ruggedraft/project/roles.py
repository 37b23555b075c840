"""What the application may do in the ledger's database: it owns nothing, and cannot rewrite what was noted.

Migrations run as the owner. Web server and stations connect as a role that may add evidence and acts and read them, and
can neither change nor delete nor empty them. Whoever takes over the application cannot make the past look different.
"""

from collections.abc import Iterable, Iterator

from django.apps import apps
from django.db import connection
from psycopg import sql

from ruggedraft.crew.models import Person

_APPEND_ONLY = (
    "journal.JournalEntry", "rolls.Take", "rolls.LeftBehind", "rolls.Waiver", "rolls.Reading", "rolls.ReadingResult",
    "clearing.Clearance", "clearing.Signature", "clearing.HandedBack", "intake.GoneAnswer", "stores.DeviceStatement",
    "productions.RuleChange", "offloads.PullSeen", "clearing.Revocation", "rolls.ClipOpening", "intake.CardTrusted",
    "kit.Custody", "days.FrozenDay", "units.UnitEntry", "certificates.SigningKey",
    "accounts.Edition", "delivering.Fetched", "delivering.Receipt",
)  # fmt: skip


_WORD_OF_PEOPLE = (
    "rolls.Waiver", "rolls.Delivery", "rolls.ClipOpening", "intake.CardAside", "intake.CardTrusted",
    "intake.GoneAnswer", "intake.NotOurs", "stores.DeviceStatement", "stores.StoreSecret",
    "pictures.DecodingAsked",
)  # fmt: skip
"""What only people say, by way of the server: no station writes any of it."""


def append_only_tables() -> list[str]:
    return [*_tables(_APPEND_ONLY), apps.get_model("clearing.Clearance").rolls.through._meta.db_table]


def _tables(models: Iterable[str]) -> list[str]:
    return [apps.get_model(name)._meta.db_table for name in models]


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


STATIONS = "raft_stations"
"""The group of the roles that stations on other machines have; see `pg_hba.conf` as bootstrap writes it."""

_WRITES = (
    "intake",
    "footage",
    "rolls",
    "runs",
    "offloads",
    "checks",
    "stores",
    "adopting",
    "pictures",
    "returning",
    "making_room",
    "keywords",
    "procrastinate",
    "journal",
)
"""Apps whose tables a station adds to and changes: what it reads, copies and proves."""
_UNSEEN = (
    "crew_person",
    "crew_pin",
    "crew_sharedscreen",
    "crew_invitation",
    "news_",
    "delivering_",
    "units_",
    "views_",
    "live_",
    "kit_stationticket",
    "django_session",
    "axes_",
    "otp_",
)
"""Tables, by how their names begin, that a station on another machine sees nothing of."""


def let_stations_in(app_role: str) -> bool:
    """Let roles of stations be made for this database, and only by the application's role. As the database's owner.

    A station writes what it reads, copies and proves; it signs nothing, and changes no rule, plan or account.
    Returns False where the owner may not make roles, so that no other station can join.
    """
    group, app = sql.Identifier(STATIONS), sql.Identifier(app_role)
    with connection.cursor() as cursor:
        cursor.execute("SELECT rolsuper FROM pg_roles WHERE rolname = current_user")
        if not cursor.fetchone()[0]:
            return False
        cursor.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", [STATIONS])
        if not cursor.fetchone():
            cursor.execute(_said("CREATE ROLE {} NOLOGIN", group))
        for words in _stations_rights():
            cursor.execute(_said(words, group))
        cursor.execute(_FUNCTIONS)
        for function in ("raft_let_station_in(bigint, text)", "raft_turn_station_away(bigint)"):
            cursor.execute(f"REVOKE ALL ON FUNCTION {function} FROM PUBLIC")
            cursor.execute(_said(f"GRANT EXECUTE ON FUNCTION {function} TO {{}}", app))
    return True


def _stations_rights() -> Iterator[str]:
    """What the group of stations may do, as statements with a place for its name."""
    yield "REVOKE ALL ON ALL TABLES IN SCHEMA public FROM {}"
    yield "GRANT USAGE ON SCHEMA public TO {}"
    yield "GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {}"
    kept, of_people = set(append_only_tables()), set(_tables(_WORD_OF_PEOPLE))
    for table in connection.introspection.table_names():
        if not table.startswith(_UNSEEN):
            yield f'GRANT SELECT ON "{table}" TO {{}}'
        if table.startswith(tuple(f"{app}_" for app in _WRITES)) and table not in of_people:
            yield f'GRANT INSERT{"" if table in kept else ", UPDATE, DELETE"} ON "{table}" TO {{}}'
    columns = ", ".join(field.name for field in Person._meta.concrete_fields if field.name != "password")
    yield f"GRANT SELECT ({columns}) ON crew_person TO {{}}"
    yield "GRANT UPDATE (seen_at, clock_off_s, plugged_in) ON kit_station TO {}"
    yield "GRANT INSERT ON kit_device, kit_location TO {}"  # of drives that people take into use there
    yield "GRANT UPDATE (id) ON productions_production TO {}"  # to lock a row, PostgreSQL asks for this


_FUNCTIONS = """
CREATE OR REPLACE FUNCTION raft_let_station_in(station bigint, password text) RETURNS text
LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
DECLARE called text := left('raft_station_' || station || '_' || current_database(), 63);
BEGIN
    IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = called) THEN
        EXECUTE format('CREATE ROLE %I', called);
    END IF;
    EXECUTE format('ALTER ROLE %I LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOBYPASSRLS NOREPLICATION PASSWORD %L',
                   called, password);
    EXECUTE format('GRANT raft_stations TO %I', called);
    RETURN called;
END $$;
CREATE OR REPLACE FUNCTION raft_turn_station_away(station bigint) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
DECLARE called text := left('raft_station_' || station || '_' || current_database(), 63);
BEGIN
    -- in a ledger that was restored elsewhere the role may not be there, and lets nobody in
    IF EXISTS (SELECT FROM pg_roles WHERE rolname = called) THEN
        EXECUTE format('ALTER ROLE %I NOLOGIN', called);
    END IF;
    PERFORM pg_terminate_backend(pid) FROM pg_stat_activity WHERE usename = called;
END $$;
"""


def _said(words: str, *parts: sql.Composable) -> str:
    return sql.SQL(words).format(*parts).as_string(connection.connection)
