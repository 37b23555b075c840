"""The database's advisory locks, which live as long as the connection that took them: a process that dies lets go."""

import psycopg
from django.db import connection


def is_held(kind: int, number: int) -> bool:
    """Whether any process holds this lock now (pg_locks: classid and objid are the lock's two numbers)."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT EXISTS (SELECT FROM pg_locks WHERE locktype = 'advisory' AND granted"
            " AND classid = %s AND objid = %s"
            " AND database = (SELECT oid FROM pg_database WHERE datname = current_database()))",
            [kind, number],
        )
        return bool(cursor.fetchone()[0])


def try_lock(over: psycopg.Connection, kind: int, number: int) -> bool:
    """Take a lock for as long as this connection lives; False if somebody else has it."""
    row = over.execute("SELECT pg_try_advisory_lock(%s, %s)", [kind, number]).fetchone()
    return row is not None and bool(row[0])
